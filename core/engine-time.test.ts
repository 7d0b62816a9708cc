/**
 * Moments that are called by timecode, whatever the source does. Expected instants follow from the frame rate and the speed that the test plays at.
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dice } from './dice.js';
import { at, called, moment, TIDE, timeStage } from './engine-time.test-helper.js';
import { PADS, SCORE } from './engine.test-helper.js';
import type { SysexSignal } from './signal.js';
import { locateCommand, machineCommand } from './timecode/mmc.js';
import { FRAME_RATES, RATES } from './timecode/frame-rate.js';
import { quarterFrame } from './timecode/mtc.js';
import { framesPerDay, writePosition } from './timecode/timecode.js';

const SONG = [
  moment('1', '01:00:01:00'),
  moment('2', '01:00:02:00'),
  moment('3', '01:00:03:12'),
  moment('4', null),
  moment('5', '01:00:08:00'),
];
const HOUR = at('01:00:00:00');

describe('a source of timecode', () => {
  test('calls each moment within a frame of its time, and no other', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 10_000);
    expect(called(stage)).toEqual(['m1', 'm2', 'm3', 'm5']);
    for (const [place, due] of [1000, 2000, 3480, 8000].entries())
      expect(Math.abs(stage.calls[place]!.now - due)).toBeLessThan(1);
  });

  test.each(FRAME_RATES)('at %s is read at that rate, and a moment is called at its own time', (rate) => {
    const stage = timeStage([moment('1', `01:00:01${rate === '29.97df' ? ';' : ':'}05`)], {
      frameRate: rate,
    });
    stage.play(at('01:00:00:00', rate), 3000, { rate });
    expect(called(stage)).toEqual(['m1']);
    const due = at('01:00:01:05', rate) - at('01:00:00:00', rate);
    expect(Math.abs(stage.calls[0]!.now - due)).toBeLessThan(1);
  });

  test('that begins exactly at a moment calls it, though it takes frames to lock', () => {
    const stage = timeStage(SONG);
    stage.play(at('01:00:01:00'), 500);
    expect(called(stage)).toEqual(['m1']);
  });

  test('that is heard late still calls what was due a moment ago, and nothing older', () => {
    const stage = timeStage(SONG, { lateMs: 500 });
    stage.play(at('01:00:02:08'), 500);
    expect(called(stage)).toEqual(['m2']);
    const strict = timeStage(SONG, { lateMs: 0 });
    strict.play(at('01:00:02:08'), 500);
    expect(called(strict)).toEqual([]);
  });

  test('that is silent for half a second is ridden through, and moments are called meanwhile', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 1800);
    stage.pass(300);
    expect(stage.engine.position.state().mode).toBe('riding');
    expect(called(stage)).toEqual(['m1', 'm2']);
    stage.play(HOUR + 2100, 2000);
    expect(stage.engine.position.state().mode).toBe('following');
    expect(called(stage)).toEqual(['m1', 'm2', 'm3']);
    expect(stage.calls[1]!.now).toBeCloseTo(2000, 0);
  });

  test.each([280, 300, 320, 340, 360])(
    'that comes back from another place after %s ms, just before it counts as lost, calls what is due just behind it',
    (silentMs) => {
      // It comes back five frames on from where it would be, and is lost before it is known to have jumped.
      const back = HOUR + 1200 + silentMs + 200;
      const stage = timeStage([moment('1', writePosition(back + 40, '25'))], { lateMs: 0 });
      stage.play(HOUR, 1200);
      stage.pass(silentMs);
      stage.play(back, 1000);
      expect(called(stage)).toEqual(['m1']);
    },
  );

  test.each([
    ['hold', 0],
    ['stop', 0],
    ['runOn', 1],
  ] as const)('that is lost lets the position %s', (afterGap, speed) => {
    const stage = timeStage(SONG, { afterGap });
    stage.play(HOUR, 1500);
    stage.pass(3000);
    expect(stage.engine.position.motion().speed).toBeCloseTo(speed, 3);
    expect(called(stage)).toEqual(speed ? ['m1', 'm2', 'm3'] : ['m1']);
    const held = at('01:00:02:00');
    if (!speed) expect(Math.abs(stage.position() - held)).toBeLessThan(15);
  });

  test('that is lost and stopped by hand is followed again when it comes back', () => {
    const stage = timeStage(SONG, { afterGap: 'hold' });
    stage.play(HOUR, 1500);
    stage.pass(3000);
    expect(stage.engine.position.state().mode).toBe('lost');
    stage.give({ t: 'position', act: { do: 'stop' } });
    expect(stage.engine.position.state()).toMatchObject({ mode: 'own', chosen: 'auto' });
    stage.play(HOUR + 3000, 2000);
    expect(stage.engine.position.state().mode).toBe('following');
    expect(Math.abs(stage.position() - (HOUR + 5000))).toBeLessThan(100);
  });

  test.each([0, 0.2])(
    'that stands still for 120 ms now and then calls every moment once, with %d lost',
    (lost) => {
      for (let seed = 1; seed <= 20; seed++) {
        let state = seed * 7919;
        const random = (): number => (state = (state * 48_271) % 0x7fff_ffff) / 0x7fff_ffff;
        const stage = timeStage(SONG);
        let sent = 0;
        let still = 0;
        for (let n = 0; n < 1000; n++) {
          stage.pass(10);
          if (still === 0 && random() < 0.02) still = 12;
          if (still > 0 && --still > 0) continue;
          // A sender that was late leaves out what is older than a set, and begins with a whole one.
          if (n - sent > 8) sent = Math.ceil(n / 8) * 8;
          for (; sent <= n; sent++)
            if (random() >= lost)
              stage.give({ t: 'heard', line: SCORE, signal: quarterFrame(HOUR / 10 + sent, '25') });
        }
        expect(called(stage)).toEqual(['m1', 'm2', 'm3', 'm5']);
      }
    },
  );

  test('that loses one of five quarter frames calls every moment within 250 ms', () => {
    // Losses by chance, the same each time: a multiplicative generator.
    for (let seed = 1; seed <= 20; seed++) {
      let state = seed;
      const isLost = (): boolean => (state = (state * 48_271) % 0x7fff_ffff) / 0x7fff_ffff < 0.2;
      const stage = timeStage(SONG);
      for (let n = 0; n < 1200; n++) {
        stage.pass(10);
        if (!isLost()) stage.give({ t: 'heard', line: SCORE, signal: quarterFrame(HOUR / 10 + n, '25') });
      }
      expect(called(stage)).toEqual(['m1', 'm2', 'm3', 'm5']);
      const due = [1000, 2000, 3480, 8000];
      stage.calls.forEach(({ now }, place) => expect(Math.abs(now - due[place]!)).toBeLessThan(250));
    }
  });

  test('that repeats itself, or sends what makes no sense, is lost like one that is silent', () => {
    for (const data of [0x00, 0x7f]) {
      const stage = timeStage(SONG);
      stage.play(HOUR, 1500);
      for (let n = 0; n < 200; n++) {
        stage.pass(10);
        stage.give({
          t: 'heard',
          line: SCORE,
          signal: { kind: 'system', status: 0xf1, data1: data, data2: 0 },
        });
      }
      expect(stage.engine.position.state().mode).toBe('lost');
      expect(called(stage)).toEqual(['m1']);
    }
  });

  test('that says where it stands moves the position there, calls nothing, and calls from there on', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 1500);
    stage.stand(at('01:00:03:12'));
    expect(stage.position()).toBe(at('01:00:03:12'));
    stage.pass(5000);
    expect(called(stage)).toEqual(['m1']);
    stage.play(at('01:00:03:12'), 1000);
    expect(called(stage)).toEqual(['m1', 'm3']);
  });

  test('that goes back calls what it passes again', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 2500);
    stage.play(at('01:00:01:12'), 1000);
    expect(called(stage)).toEqual(['m1', 'm2', 'm2']);
  });

  test('that runs backward calls nothing, and forward again what it passes then', () => {
    const stage = timeStage(SONG);
    stage.play(at('01:00:01:12'), 1000);
    stage.play(at('01:00:02:12'), 1000, { speed: -1 });
    expect(called(stage)).toEqual(['m2']);
    stage.play(at('01:00:01:12'), 1000);
    expect(called(stage)).toEqual(['m2', 'm2']);
  });

  test.each(FRAME_RATES)('at %s runs over midnight without a jump', (rate) => {
    const mark = rate === '29.97df' ? ';' : ':';
    const stage = timeStage(
      [
        moment('1', `00:00:00${mark}00`),
        moment('2', `00:00:01${mark}05`),
        moment('3', '12:00:00:00'),
        moment('4', `23:59:59${mark}20`),
      ],
      { frameRate: rate, afterJump: 'catchUp' },
    );
    stage.play(at(`23:59:57${mark}00`, rate), 6000, { rate });
    // Nothing is missed on either side, and nothing is caught up to but where it begins: there the fourth stands by.
    expect(called(stage)).toEqual(['m4', 'm1', 'm2']);
    expect(stage.calls.filter(({ what }) => what === 'caughtUp').map(({ id }) => id)).toEqual(['m4']);
    const due = [at(`23:59:59${mark}20`, rate) - at(`23:59:57${mark}00`, rate), 0, 0];
    due[1] = framesPerDay(rate) * (1000 / RATES[rate].fps) - at(`23:59:57${mark}00`, rate);
    due[2] = due[1]! + at(`00:00:01${mark}05`, rate);
    // The new day is believed after as many frames as a jump is.
    const calls = stage.calls.filter(({ what }) => what === 'called');
    for (const [place, instant] of due.entries()) {
      // MIDI timecode begins with an even frame, which may be one before the one that is asked for.
      expect(calls[place]!.now).toBeGreaterThan(instant - 1000 / RATES[rate].fps - 1);
      expect(calls[place]!.now).toBeLessThan(instant + 600);
    }
  });

  test('that trembles on a moment calls it once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const roll = dice(seed);
        const stage = timeStage(SONG);
        stage.play(HOUR, 4000, { late: () => roll() * 12 });
        expect(called(stage)).toEqual(['m1', 'm2', 'm3']);
      }),
      { numRuns: 20 },
    );
  });

  test('that runs faster or slower calls at its own time', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 2000, { speed: 2 });
    expect(called(stage)).toEqual(['m1', 'm2', 'm3']);
    expect(stage.calls[1]!.now).toBeCloseTo(1000, 0);
  });

  test('has an offset', () => {
    const stage = timeStage(SONG, {}, { sources: [{ ...TIDE, offsetMs: 3_600_000 }] });
    stage.play(0, 2500);
    expect(called(stage)).toEqual(['m1', 'm2']);
  });
});

describe('several sources', () => {
  const SOURCES = [TIDE, { ...TIDE, id: 'spare', lineId: 'pads' }];
  const BOTH = { line: [SCORE, PADS] };

  test('the first one counts, and the next one takes over when it is lost', () => {
    const stage = timeStage(SONG, { rideMs: 300 }, { sources: SOURCES });
    stage.play(HOUR, 1440, BOTH);
    expect(stage.engine.position.state().counts).toBe('tide');
    stage.play(HOUR + 1440, 1500, { line: PADS });
    expect(stage.engine.position.state().counts).toBe('spare');
    expect(called(stage)).toEqual(['m1', 'm2']);
    expect(stage.calls[1]!.now).toBeCloseTo(2000, 0);
  });

  test.each([true, false])('one that is preferred is followed again when it is back: %s', (goesBack) => {
    const stage = timeStage(SONG, { goesBack }, { sources: SOURCES });
    stage.play(HOUR, 560, { line: PADS });
    expect(stage.engine.position.state().counts).toBe('spare');
    stage.play(HOUR + 560, 1500, BOTH);
    expect(stage.engine.position.state().counts).toBe(goesBack ? 'tide' : 'spare');
    // Both are at the same place, so that nothing jumps.
    expect(stage.engine.position.state().turns).toBe(1);
    expect(called(stage)).toEqual(['m1', 'm2']);
  });

  test('one that is chosen by hand counts, even if a better one is there', () => {
    const stage = timeStage(SONG, {}, { sources: SOURCES });
    stage.act({ do: 'choose', source: 'spare' });
    stage.play(HOUR, 1500);
    expect(called(stage)).toEqual([]);
    stage.play(HOUR, 1500, { line: PADS });
    expect(called(stage)).toEqual(['m1']);
  });
});

describe('our own position', () => {
  test('plays, stops, and calls what it passes', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'locate', ms: HOUR });
    expect(called(stage)).toEqual([]);
    stage.act({ do: 'play' });
    stage.pass(1500);
    stage.act({ do: 'stop' });
    stage.pass(5000);
    expect(called(stage)).toEqual(['m1']);
    expect(stage.position()).toBe(HOUR + 1500);
    stage.act({ do: 'play' });
    stage.pass(1000);
    expect(called(stage)).toEqual(['m1', 'm2']);
    expect(stage.calls.map(({ now }) => now)).toEqual([1000, 7000]);
  });

  test('is located exactly to a moment, and calls it when it plays', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'locate', ms: at('01:00:02:00') });
    stage.pass(100);
    stage.act({ do: 'play' });
    expect(called(stage)).toEqual(['m2']);
  });

  test('plays at another speed, changed while it runs', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(1000);
    stage.act({ do: 'speed', speed: 4 });
    stage.pass(500);
    expect(stage.position()).toBe(HOUR + 3000);
    stage.act({ do: 'speed', speed: 100 });
    expect(stage.engine.position.state().ownSpeed).toBe(4);
  });

  test('goes round in a loop, without drift, and calls in each round', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'loop', loop: { from: HOUR + 500, to: HOUR + 2000 } });
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(2000 + 100 * 1500);
    expect(called(stage).filter((id) => id === 'm1')).toHaveLength(101);
    expect(called(stage)).not.toContain('m2');
    expect(stage.position()).toBeCloseTo(HOUR + 500, 6);
  });

  test('a loop of no length is refused', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'loop', loop: { from: HOUR, to: HOUR } });
    expect(stage.engine.position.state().loop).toBeNull();
  });

  test('counts from now on if it is asked for while a source is heard', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 500);
    stage.act({ do: 'playFrom', ms: at('01:00:07:00') });
    stage.play(HOUR + 500, 1100);
    expect(stage.engine.position.state()).toMatchObject({ counts: 'own', chosen: 'own' });
    expect(called(stage)).toEqual(['m5']);
    stage.act({ do: 'choose', source: 'auto' });
    expect(stage.engine.position.state().counts).toBe('tide');
  });

  test('does not drift within an hour', () => {
    const stage = timeStage([moment('1', '02:00:00:00')]);
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(3_600_000);
    expect(stage.position()).toBe(HOUR + 3_600_000);
    expect(stage.calls.map(({ now }) => now)).toEqual([3_600_000]);
  });

  /** As an engine that comes back, where the position played until some ms ago. */
  const backAfter = (stage: ReturnType<typeof timeStage>, ms: number): void =>
    stage.give({
      t: 'restore',
      before: {
        standingBy: null,
        called: null,
        finished: [],
        tempo: null,
        position: {
          motion: { ms: HOUR + 900, at: stage.now() - ms, speed: 1 },
          counts: 'own',
          chosen: 'auto',
          callsOn: true,
          loop: null,
          ownSpeed: 1,
        },
      },
    });

  test('goes on after a restart from where it would be, and calls what was due meanwhile', () => {
    const stage = timeStage(SONG);
    stage.pass(100_000);
    backAfter(stage, 600);
    expect(stage.position()).toBe(HOUR + 1500);
    // Its lines have to open first.
    expect(called(stage)).toEqual([]);
    stage.pass(250);
    expect(called(stage)).toEqual(['m1']);
    stage.pass(300);
    expect(called(stage)).toEqual(['m1', 'm2']);
  });

  test.each([
    [9900, true],
    [10_100, false],
  ])('after a restart that took %i ms goes on: %j', (ms, goesOn) => {
    const stage = timeStage(SONG);
    stage.pass(100_000);
    backAfter(stage, ms);
    stage.pass(1000);
    expect(stage.position()).toBe(HOUR + 900 + (goesOn ? ms + 1000 : 0));
  });
});

describe('machine control', () => {
  const DECK = { ...TIDE, id: 'deck', kind: 'mmc' as const };
  const say = (stage: ReturnType<typeof timeStage>, signal: SysexSignal): void =>
    stage.give({ t: 'heard', line: SCORE, signal });

  test('plays, stops and moves our own position', () => {
    const stage = timeStage(SONG, {}, { sources: [DECK] });
    say(stage, locateCommand(Math.round(HOUR / 40), '25'));
    say(stage, machineCommand('play'));
    stage.pass(1500);
    say(stage, machineCommand('pause'));
    stage.pass(1500);
    expect(stage.position()).toBe(HOUR + 1500);
    expect(called(stage)).toEqual(['m1']);
    say(stage, machineCommand('deferredPlay'));
    stage.pass(1000);
    say(stage, machineCommand('stop'));
    expect(called(stage)).toEqual(['m1', 'm2']);
  });

  test('never takes the position from a source that is heard', () => {
    const stage = timeStage(SONG, {}, { sources: [TIDE, DECK] });
    stage.play(HOUR, 1000);
    say(stage, machineCommand('stop'));
    expect(stage.engine.position.state()).toMatchObject({ counts: 'tide', chosen: 'auto' });
  });
});

describe('calls by timecode', () => {
  test('are switched off, and say why nothing was called', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'calls', on: false });
    stage.play(HOUR, 1500);
    stage.act({ do: 'calls', on: true });
    stage.play(HOUR + 1500, 1000);
    expect(called(stage)).toEqual(['m2']);
    expect(stage.engine.position.state().passed).toEqual([{ id: 'm1', ms: HOUR + 1000, why: 'off' }]);
  });

  test('leave out a moment that was taken out or parked', () => {
    const stage = timeStage([
      moment('1', '01:00:01:00', { timecodeOn: false }),
      moment('2', '01:00:01:12', { parked: true }),
    ]);
    stage.play(HOUR, 2000);
    expect(called(stage)).toEqual([]);
    expect(stage.engine.position.state().passed.map(({ why }) => why)).toEqual(['takenOut', 'takenOut']);
  });

  test('what was jumped over is passed, and named', () => {
    const stage = timeStage(SONG);
    stage.play(HOUR, 1500);
    stage.play(at('01:00:04:00'), 500);
    expect(called(stage)).toEqual(['m1']);
    const over = (): string[] => stage.engine.position.state().passed.map(({ id, why }) => `${id} ${why}`);
    expect(over()).toEqual(['m2 jumped', 'm3 jumped']);
    // Back before one of them, it is still to come.
    stage.play(at('01:00:03:04'), 1000);
    expect(over()).toEqual(['m2 jumped']);
    expect(called(stage)).toEqual(['m1', 'm3']);
  });

  test('where it runs for the first time, nothing was jumped over', () => {
    const stage = timeStage(SONG);
    stage.stand(at('01:00:04:00'));
    stage.play(at('01:00:04:00'), 1000);
    expect(stage.engine.position.state().passed).toEqual([]);
  });

  test.each([
    ['nothing', [], 'm1'],
    ['catchUp', ['caughtUp'], 'm4'],
    ['callRunning', ['called'], 'm4'],
  ] as const)('after a jump the show does %s', (afterJump, events, standby) => {
    const stage = timeStage(SONG, { afterJump });
    stage.act({ do: 'playFrom', ms: at('01:00:04:00') });
    expect(stage.calls.map(({ what }) => what)).toEqual(events);
    expect(stage.engine.orderState().standingBy).toBe(standby);
  });

  test('an edit while it runs moves what is still to come', () => {
    const stage = timeStage(SONG);
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(1500);
    stage.load((show) => (show.moments = [moment('1', '01:00:01:00'), moment('2', '01:00:03:00')]));
    stage.pass(2000);
    expect(stage.calls.map(({ now }) => now)).toEqual([1000, 3000]);
  });
});

describe('any sequence of playing, gaps, jitter and jumps', () => {
  const MOMENTS = Array.from({ length: 30 }, (_, second) =>
    moment(String(second + 1), `01:00:${String(second * 2 + 1).padStart(2, '0')}:00`),
  );
  const step = fc.record({
    /** What the source does before it plays on: goes on, is silent, or jumps. */
    before: fc.oneof(
      fc.constant({ gap: 0, jump: null }),
      fc.record({ gap: fc.integer({ min: 20, max: 450 }), jump: fc.constant(null) }),
      fc.record({ gap: fc.constant(0), jump: fc.integer({ min: 0, max: 50_000 }) }),
    ),
    ms: fc.integer({ min: 1000, max: 6000 }),
    jitter: fc.integer({ min: 0, max: 6 }),
  });

  test('calls no moment twice, misses none that was passed in play, and none by a jump', () => {
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 1, max: 1e6 }),
        (steps, seed) => {
          const roll = dice(seed);
          const stage = timeStage(MOMENTS, { lateMs: 0 });
          let position = HOUR;
          const wanted: string[] = [];
          /** A set of quarter frames takes two frames to be read, so that a jump is known that much later. */
          const unsure: string[] = [];
          let from = position;
          // What was played without a jump, from its first frame to its last one.
          const passed = (end: number): void => {
            for (const { id, timecode } of MOMENTS) {
              const due = at(timecode!);
              if (due >= from && due < end) wanted.push(id);
              if (due >= end && due < end + 100) unsure.push(`${id} ${wanted.length}`);
            }
          };
          for (const { before, ms, jitter } of steps) {
            if (before.jump !== null) {
              passed(position);
              // A jump begins with a whole set, as senders do; and more than a set away, since what was passed so short a time ago is not passed again.
              const to = HOUR + Math.round(before.jump / 80) * 80;
              position = Math.abs(to - position) > 80 ? to : to + 240;
              from = position;
            }
            stage.pass(before.gap);
            position += before.gap;
            const played = Math.round(ms / 80) * 80;
            position = Math.round(position / 80) * 80;
            stage.play(position, played, { late: () => roll() * jitter });
            position += played;
          }
          passed(position);
          const heard = called(stage);
          for (const one of unsure) {
            const [id, place] = one.split(' ') as [string, string];
            // It may be passed again after the jump, and is wanted then.
            const isTwice = heard[Number(place) + 1] === id;
            if (heard[Number(place)] === id && (wanted[Number(place)] !== id || isTwice))
              heard.splice(Number(place), 1);
          }
          expect(heard).toEqual(wanted);
        },
      ),
      { numRuns: 60 },
    );
  });
});
