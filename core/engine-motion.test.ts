/** Motions in the engine: waves, envelopes, eases and steps, against their formulas. Times are those of the engine, so nothing sleeps. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { channelSignals, cc, motion, motionStage, moves, OSC, values } from './engine-motion.test-helper.js';
import { LASER } from './engine.test-helper.js';
import { makeSend } from './sends.js';

describe('a wave', () => {
  test('sends a sine by its formula, at most fifty times a second', () => {
    const stage = motionStage([motion({ drive: { everyMs: 4000 } })]);
    stage.pass(8000);
    const sent = values(stage.left());
    expect(sent.length).toBeGreaterThan(390);
    expect(sent.length).toBeLessThanOrEqual(401);
    for (const { at, value } of sent)
      expect(value).toBeCloseTo(0.5 + Math.sin((2 * Math.PI * at) / 4000) / 2, 5);
  });

  test('keeps its rate where the engine is always woken a little late', () => {
    const stage = motionStage([motion({ drive: { everyMs: 4000 } })], [], undefined, 0.4);
    stage.pass(8000);
    const sent = values(stage.left());
    expect(sent.length).toBeGreaterThan(390);
    expect(sent.length).toBeLessThanOrEqual(401);
  });

  test('in beats keeps its phase when the tempo changes', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 40, max: 240 }), fc.integer({ min: 1, max: 3000 })), {
          maxLength: 8,
        }),
        (changes) => {
          const stage = motionStage([
            motion({ makes: { kind: 'wave', form: 'rampUp' }, drive: { everyBeats: 4 } }),
          ]);
          let beats = 0;
          let bpm = 120;
          for (const [next, ms] of changes) {
            stage.pass(ms);
            beats += (ms * bpm) / 60_000;
            bpm = next;
            stage.give({ t: 'tempo', bpm });
          }
          stage.left();
          stage.pass(500);
          const sent = values(stage.left());
          expect(sent.length).toBeGreaterThan(0);
          for (const { at, value } of sent) {
            const phase = (beats + ((at - stage.now() + 500) * bpm) / 60_000) / 4;
            // Where it falls back, either side is right.
            const off = Math.abs(value - (phase - Math.floor(phase)));
            expect(Math.min(off, 1 - off)).toBeLessThan(1e-4);
          }
        },
      ),
      { numRuns: 100 },
    );
  });

  test('goes both ways about the middle, smaller and offset, and is moved by faders', () => {
    const stage = motionStage(
      [motion({ drive: { everyMs: 1000 }, shape: { amount: 0.5, bothWays: true, offset: 0.1 } })],
      [
        {
          ...moves('amount', [20, 20]),
          hear: { message: 'pressed', lineId: 'pads', channels: 'any', numbers: [20, 20], values: 'any' },
        },
      ],
    );
    stage.pass(2000);
    const before = values(stage.left()).map(({ value }) => value);
    expect(Math.max(...before)).toBeCloseTo(0.85, 2);
    expect(Math.min(...before)).toBeCloseTo(0.35, 2);
    stage.press(20, 0 + 127);
    stage.pass(1000);
    const after = values(stage.left()).map(({ value }) => value);
    expect(Math.max(...after)).toBe(1);
    expect(Math.min(...after)).toBeCloseTo(0.1, 2);
  });

  test('that a fader makes faster goes on from where it is', () => {
    const faster = moves('speed', [20, 20]);
    const stage = motionStage(
      [motion({ makes: { kind: 'wave', form: 'rampUp' }, drive: { everyMs: 4000 } })],
      [{ ...faster, shape: { ...faster.shape, in: [0, 127], out: [0, 2] } }],
    );
    stage.pass(1000);
    stage.left();
    stage.press(20, 127);
    stage.pass(500);
    const sent = values(stage.left());
    // A quarter of the way, then twice as fast.
    expect(sent[0]!.value).toBeCloseTo(0.25 + (sent[0]!.at - 1000) / 2000, 5);
    expect(sent.at(-1)!.value).toBeCloseTo(0.5, 2);
  });

  test('is off while its bank is, and in safe it goes on and nothing leaves', () => {
    const bank = { id: 'storm', name: 'Storm glass', on: false, colour: 'dusk' };
    const stage = motionStage([motion({ bankId: 'storm' })], [], (show) => {
      show.banks = [bank as never];
    });
    stage.pass(500);
    expect(stage.left()).toEqual([]);
    stage.load((show) => (show.banks = [{ ...bank, on: true } as never]));
    stage.pass(500);
    expect(values(stage.left()).length).toBeGreaterThan(20);
    stage.give({ t: 'armed', armed: false });
    stage.pass(500);
    const heldBack = stage.left();
    expect(heldBack.length).toBeGreaterThan(20);
    expect(heldBack.every((one) => one.heldBack)).toBe(true);
    stage.give({ t: 'armed', armed: true });
    stage.pass(100);
    expect(stage.left().some((one) => one.heldBack)).toBe(false);
  });

  test('stops with Panic until somebody starts it', () => {
    const stage = motionStage([motion()]);
    stage.pass(500);
    stage.give({ t: 'panic', desk: '' });
    stage.left();
    stage.pass(500);
    stage.load((show) => (show.settings = { ...show.settings, name: 'Edited' }));
    stage.pass(500);
    expect(stage.left()).toEqual([]);
    stage.give({ t: 'motion', id: 'tide', act: 'start' });
    stage.pass(500);
    expect(values(stage.left()).length).toBeGreaterThan(20);
  });

  test('that is edited while it runs keeps its phase', () => {
    const tide = motion({ makes: { kind: 'wave', form: 'rampUp' }, drive: { everyMs: 4000 } });
    const stage = motionStage([tide]);
    stage.pass(1000);
    stage.left();
    stage.load((show) => (show.motions = [{ ...tide, shape: { ...tide.shape, amount: 0.5 } }]));
    stage.pass(40);
    expect(values(stage.left())[0]!.value).toBeCloseTo(0.125, 2);
  });

  test('sends to DMX 44 times a second, and only what has changed', () => {
    const slot = makeSend({ kind: 'slot', lineId: 'rig', slot: 5, range: [0, 3] });
    const stage = motionStage([
      motion({ drive: { everyMs: 1000 }, makes: { kind: 'wave', form: 'triangle' }, sends: [slot] }),
    ]);
    stage.pass(10_000);
    const levels = stage.left().map(({ signal }) => (signal.kind === 'slot' ? signal.level : NaN));
    // Ten times up and down over four levels, and none twice in a row.
    expect(levels.length).toBe(61);
    expect(levels.every((level, at) => level !== levels[at - 1])).toBe(true);
    const fast = motionStage([
      motion({ drive: { everyMs: 100 }, sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 5 })] }),
    ]);
    fast.pass(10_000);
    expect(fast.left().length).toBeLessThanOrEqual(441);
  });

  test('on a 5-pin line all together send less than it carries', () => {
    const many = Array.from({ length: 30 }, (_, at) =>
      motion({ id: `m${at}`, drive: { everyMs: 50 + at, inStep: false }, sends: [cc(at)], perSecond: 200 }),
    );
    const stage = motionStage(many, [], (show) => {
      show.lines = show.lines.map((line) =>
        line.id === 'laser' ? { ...line, fivePin: true } : line,
      ) as never;
    });
    stage.pass(5000);
    const left = stage.left();
    // MIDI 1.0: 3,125 bytes a second, three a message.
    expect(left.length * 3).toBeLessThan(3125 * 5);
    expect(left.length * 3).toBeGreaterThan(3125 * 5 * 0.7);
    // None is left out.
    expect(new Set(channelSignals(left).map(({ number }) => number)).size).toBe(30);
  });
});

describe('an envelope for each note', () => {
  const bells = motion({
    id: 'bells',
    begins: 'asked',
    voices: 8,
    makes: {
      kind: 'envelope',
      attack: { ms: 100 },
      decay: { ms: 200 },
      sustain: 0.5,
      release: { ms: 400 },
    },
    sends: [cc(70, { follows: true })],
  });
  const notes = moves('press', [70, 73], { motionId: 'bells' });

  test('four notes drive four controllers, each by its own envelope', () => {
    const stage = motionStage([bells], [notes]);
    [70, 71, 72, 73].forEach((note) => {
      stage.press(note);
      stage.pass(150);
    });
    stage.pass(1000);
    const held = channelSignals(stage.left());
    expect([...new Set(held.map(({ number }) => number))]).toEqual([70, 71, 72, 73]);
    held.forEach(({ at, number, value }) => {
      const since = at - (number - 70) * 150;
      const level = since <= 100 ? since / 100 : since <= 300 ? 1 - ((since - 100) / 200) * 0.5 : 0.5;
      expect(value).toBe(Math.round(level * 127));
    });
    stage.release(71);
    stage.pass(2000);
    const released = channelSignals(stage.left());
    expect(released.every(({ number }) => number === 71)).toBe(true);
    expect(released.at(-1)!.value).toBe(0);
    expect(released.at(-1)!.at).toBeLessThanOrEqual(1600 + 400);
    stage.pass(5000);
    expect(stage.left()).toEqual([]);
    expect(stage.engine.motions.seen(0, 0).running['bells']).toHaveLength(3);
    [70, 72, 73].forEach((note) => stage.release(note));
    stage.pass(1000);
    expect(stage.engine.motions.seen(0, 0).voices).toBe(0);
    expect(stage.engine.wakeAt()).toBe(Infinity);
  });

  test('takes the oldest voice when all are used', () => {
    const stage = motionStage([{ ...bells, voices: 2 }], [notes]);
    [70, 71, 72].forEach((note) => {
      stage.press(note);
      stage.pass(50);
    });
    const seen = stage.engine.motions.seen(0, 0).running['bells']!;
    expect(seen.map(({ note }) => note!.number)).toEqual([71, 72]);
  });

  test('can be released in every stage, from the level that it has', () => {
    for (const [held, level] of [
      [50, 0.5],
      [150, 0.875],
      [250, 0.625],
      [700, 0.5],
    ] as const) {
      const stage = motionStage([bells], [notes]);
      stage.press(70);
      stage.pass(held);
      stage.left();
      stage.release(70);
      stage.pass(1000);
      const falling = channelSignals(stage.left());
      falling.forEach(({ at, value }) => {
        const expected = Math.max(0, level * (1 - (at - held) / 400));
        expect(Math.abs(value - expected * 127)).toBeLessThan(0.51);
      });
      expect(falling.at(-1)!.value).toBe(0);
    }
  });

  test('is scaled by the force of its press, and credited to it', () => {
    const stage = motionStage([{ ...bells, force: 'amount' }], [notes]);
    stage.press(70, 64);
    stage.pass(100);
    const left = stage.left();
    expect(channelSignals(left).at(-1)!.value).toBe(Math.round((64 / 127) * 127));
    expect(left.every(({ because }) => because === 1)).toBe(true);
  });

  test.each([
    ['number', { number: 'amount' } as const, 70 / 127],
    ['channel', { channel: 'amount' } as const, 10 / 16],
    ['number and force at once', { number: 'amount', force: 'amount' } as const, (70 / 127) * (64 / 127)],
  ])('is scaled by its %s', (_, scaled, part) => {
    const stage = motionStage([{ ...bells, ...scaled }], [notes]);
    stage.press(70, 64);
    stage.pass(100);
    expect(channelSignals(stage.left()).at(-1)!.value).toBe(Math.round(part * 127));
  });

  test('is not scaled by a number where a person starts it', () => {
    const stage = motionStage([{ ...bells, number: 'amount', channel: 'amount' }], [notes]);
    stage.give({ t: 'motion', id: 'bells', act: 'start' });
    stage.pass(100);
    expect(channelSignals(stage.left()).at(-1)!.value).toBe(127);
  });

  test('is silent after Panic, and its notes are released', () => {
    const chime = motion({
      id: 'chime',
      begins: 'asked',
      makes: { kind: 'steps', steps: [{ value: 0.2 }, { value: 0.8 }] },
      drive: { everyMs: 100, inStep: false },
      shape: { scale: { notes: [0, 2, 4, 5, 7, 9, 11], root: 0, low: 60, high: 72 } },
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 2, number: 0 })],
    });
    const stage = motionStage([chime], [moves('start', [36, 36], { motionId: 'chime' })]);
    stage.press(36, 127);
    stage.pass(250);
    stage.give({ t: 'panic', desk: '' });
    const sounds = channelSignals(stage.left());
    const down = new Set<number>();
    for (const { kind, number } of sounds)
      if (kind === 'noteOn') down.add(number);
      else down.delete(number);
    expect(down.size).toBe(0);
    expect(sounds.filter(({ kind }) => kind === 'noteOn').map(({ number }) => number)).toEqual([62, 71, 62]);
    stage.pass(1000);
    expect(stage.left()).toEqual([]);
  });
});

describe('an ease', () => {
  const lens = motion({
    id: 'lens',
    begins: 'asked',
    makes: { kind: 'ease', goes: 'further', by: 0.25, beats: { beats: 0.5 }, curve: 'slow-ends' },
    sends: [OSC],
  });
  const drums = [
    moves('start', [36, 36], { motionId: 'lens' }),
    moves('back', [37, 37], { motionId: 'lens' }),
  ];

  test.each([63, 118, 190])('at %d beats a minute turns by a quarter and ends on half a beat', (bpm) => {
    const stage = motionStage([lens], drums);
    stage.give({ t: 'tempo', bpm });
    stage.pass(777);
    stage.press(36);
    stage.pass(3000);
    const sent = values(stage.left());
    const last = sent.at(-1)!;
    expect(last.value).toBe(0.25);
    expect(Math.abs(last.at - 777 - 30_000 / bpm)).toBeLessThan(0.01);
    stage.press(36);
    stage.pass(3000);
    stage.press(37);
    stage.pass(3000);
    expect(values(stage.left()).at(-1)!.value).toBe(0.25);
  });

  test('ends on its beat while the tempo glides to another one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 50, max: 200 }),
        fc.integer({ min: 50, max: 200 }),
        fc.integer({ min: 1, max: 8 }),
        (from, to, beats) => {
          const glide = makeSend({ kind: 'tempo', lineId: null, bpm: to, beats: 4 } as never);
          const stage = motionStage(
            [{ ...lens, makes: { ...lens.makes, beats: { beats, on: null } } as never }],
            [...drums, { ...moves('start', [40, 40]), sends: [glide] }],
          );
          stage.give({ t: 'tempo', bpm: from });
          stage.pass(333);
          const beat = (): number => {
            const { bpm, since } = stage.engine.tempo.tempo();
            return ((stage.now() - since) * bpm) / 60_000;
          };
          const began = beat();
          stage.press(36);
          stage.press(40);
          let endedAt = NaN;
          for (let n = 0; n < 20_000 && Number.isNaN(endedAt); n += 2) {
            stage.pass(2);
            const last = values(stage.left()).at(-1);
            if (last?.value === 0.25) endedAt = last.at;
          }
          const { bpm, since } = stage.engine.tempo.tempo();
          const endBeat = ((endedAt - since) * bpm) / 60_000;
          // Less than 2 ms of the engine's time.
          expect(Math.abs(endBeat - began - beats) * (60_000 / bpm)).toBeLessThan(2);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('brightens and fades: to and fro, each in its time', () => {
    const fog = motion({
      id: 'fog',
      begins: 'asked',
      makes: { kind: 'ease', goes: 'toAndFro', ms: 200 },
    });
    const stage = motionStage([fog], [moves('start', [49, 49], { motionId: 'fog' })]);
    stage.press(49);
    stage.pass(1000);
    const sent = values(stage.left());
    expect(sent.find(({ value }) => value === 1)!.at).toBe(200);
    expect(sent.at(-1)).toEqual({ at: 400, value: 0 });
    expect(stage.engine.wakeAt()).toBe(Infinity);
  });
});

test('five hundred motions of which none runs cost the engine nothing', () => {
  const many = Array.from({ length: 500 }, (_, at) => motion({ id: `m${at}`, begins: 'asked' }));
  const stage = motionStage(many);
  expect(stage.engine.wakeAt()).toBe(Infinity);
  stage.press(60);
  expect(stage.left()).toEqual([]);
  expect(LASER).toBe(2);
});
