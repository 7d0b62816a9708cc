/** What is in beats follows the tempo: glides, fades, delays, lengths, repeats, follows, and calls on the beat. Instants are exact, since the engine is given the time. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dice } from './dice.js';
import { timeStage, type TimeStage } from './engine-time.test-helper.js';
import { anyNote, made, PADS, press, release, SCORE } from './engine.test-helper.js';
import { makeSend, type Send } from './sends.js';
import type { Mapping } from './show/mapping.js';
import { makeMoment, makeMomentSend, type Moment, type MomentSend } from './show/moment.js';
import { CLOCK, START } from './time/clock-chase.js';
import { beatAt } from './time/tempo.js';
import { timeSourceSchema } from './time/ways.js';
import { describeSignal } from './words.js';

const DRUMS = timeSourceSchema.parse({ id: 'drums', lineId: 'score', kind: 'clock' });
const beats = (count: number, on: 'beat' | 'bar' | null = null) => ({ beats: count, on });
const fog = makeSend({
  kind: 'osc',
  lineId: 'water',
  address: '/fog',
  args: [{ type: 'f', value: 'shaped' }],
});
const pad = { ...anyNote('pressed'), numbers: [36, 36] as [number, number] };
const held = { ...anyNote('held'), numbers: [36, 36] as [number, number] };
const sends = (send: Send, change: Partial<MomentSend> = {}): MomentSend =>
  makeMomentSend({ kind: 'send', send, value: 1, ...change } as Parameters<typeof makeMomentSend>[0]);

function rig(mappings: Mapping[], moments: Moment[] = [], tempo = 120): TimeStage {
  const stage = timeStage(moments, {}, { sources: [DRUMS] });
  stage.load((show) => {
    show.mappings = mappings;
    show.settings = { ...show.settings, tempo, guardMs: 0 };
  });
  return stage;
}
const hit = (stage: TimeStage, number = 36): void =>
  stage.give({ t: 'heard', line: PADS, signal: press(number) });
const go = (stage: TimeStage): void => stage.give({ t: 'order', act: { do: 'go' }, desk: '' });
const setTempo = (stage: TimeStage, bpm: number): void => stage.give({ t: 'tempo', bpm });
/** What was sent, with its instant in ms. */
const log = (stage: TimeStage): [number, string][] =>
  stage.sent.map(({ at, signal }) => [Number(at.toFixed(3)), describeSignal(signal, 4)]);
const beat = (stage: TimeStage, at: number): number => beatAt(stage.engine.tempo.tempo(), at);

describe('a mapping', () => {
  test('sends after its delay in beats, and by a tempo that changes meanwhile', () => {
    const stage = rig([made({ hear: pad, sends: [{ ...fog, delayBeats: beats(4) }] })]);
    hit(stage);
    stage.pass(1000);
    setTempo(stage, 60);
    stage.pass(1999);
    expect(log(stage)).toEqual([]);
    stage.pass(2);
    // Two beats of 500 ms, and two of 1000 ms.
    expect(log(stage).map(([at]) => at)).toEqual([3000]);
  });

  test('sends on the next bar', () => {
    const stage = rig([made({ hear: pad, sends: [{ ...fog, delayBeats: beats(0, 'bar') }] })]);
    stage.pass(2300);
    hit(stage);
    stage.pass(3000);
    expect(log(stage).map(([at]) => at)).toEqual([4000]);
  });

  test('ends a note after its beats, and repeats a key on the beat, never without end', () => {
    const note = makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, lengthBeats: beats(1) });
    const key = makeSend({ kind: 'key', lineId: 'stream', code: 'KeyA', repeatBeats: beats(0, 'beat') });
    const stage = rig([
      made({ id: 'n', hear: pad, sends: [note] }),
      made({ id: 'k', hear: held, sends: [key] }),
    ]);
    stage.pass(250);
    hit(stage);
    stage.pass(1100);
    stage.give({ t: 'heard', line: PADS, signal: release(36) });
    stage.pass(1000);
    const notes = log(stage).filter(([, words]) => words.includes('note'));
    expect(notes.map(([at]) => at)).toEqual([250, 750]);
    const keys = log(stage).filter(([, words]) => !words.includes('note'));
    expect(keys.map(([at]) => at)).toEqual([250, 500, 1000, 1350]);
  });
});

/** A player of MIDI clock. @param bpmAt the tempo at each beat. @param late how late each clock is, in ms */
function drummer(
  stage: TimeStage,
  bpmAt: (beat: number) => number,
  late: () => number,
): { play(count: number): void; beats: number[] } {
  let due = stage.now();
  let clocks = 0;
  const beatsAt: number[] = [];
  return {
    beats: beatsAt,
    play(count) {
      for (const end = clocks + count * 24; clocks < end; clocks++) {
        if (clocks % 24 === 0) beatsAt.push(due);
        stage.pass(Math.max(0, due + late() - stage.now()));
        stage.give({
          t: 'heard',
          line: SCORE,
          signal: { kind: 'system', status: CLOCK, data1: 0, data2: 0 },
        });
        due += 2500 / bpmAt(clocks / 24);
      }
    },
  };
}

describe('an ease that a pad begins on the beat of a clock', () => {
  const glide = (id: string): Mapping =>
    made({ id, hear: pad, sends: [fog], shape: { glideBeats: beats(2, 'beat'), out: [0, 1] } });

  // How far the last value was from a beat of the clock that is heard, in ms.
  function offBeat(bpmAt: (beat: number) => number, jitter: boolean): number {
    const stage = rig([glide('ease')]);
    const roll = dice(3);
    // Up to 3 ms early or late, from 3 ms on.
    const drums = drummer(stage, bpmAt, () => (jitter ? 6 * roll() : 3));
    stage.give({ t: 'heard', line: SCORE, signal: { kind: 'system', status: START, data1: 0, data2: 0 } });
    // The first press sets where the ease begins.
    hit(stage);
    drums.play(8);
    stage.sent.length = 0;
    stage.give({ t: 'heard', line: PADS, signal: press(36, 20) });
    drums.play(4);
    const ends = stage.sent.at(-1)!;
    expect(stage.sent.length).toBeGreaterThan(20);
    // It began a clock before beat 8.
    return Math.abs(ends.at - drums.beats[10]! - 3);
  }

  test.each([63, 118, 190])('ends on the beat at %i beats a minute', (bpm) => {
    expect(offBeat(() => bpm, false)).toBeLessThan(0.01);
    expect(offBeat(() => bpm, true)).toBeLessThan(2);
  });

  test.each<[string, (beat: number) => number]>([
    ['from 63 to 118 in the middle of it', (n) => (n < 9 ? 63 : 118)],
    ['from 190 to 118 in the middle of it', (n) => (n < 9 ? 190 : 118)],
    ['slowly from 118 on', (n) => 118 + Math.max(0, n - 8) * 10],
  ])('ends on the beat when the tempo goes %s', (_, bpmAt) => {
    expect(offBeat(bpmAt, false)).toBeLessThan(5);
  });
});

describe('a moment', () => {
  const level = (change: object): MomentSend =>
    makeMomentSend({ kind: 'levels', lineId: 'rig', levels: [{ slots: [1, 1], level: 255 }], ...change });
  const moment = (cue: string, sent: MomentSend[], change: Partial<Moment> = {}): Moment => ({
    ...makeMoment({ id: `m${cue}`, cue, name: '', sends: sent }),
    ...change,
  });
  const called = (stage: TimeStage): [string, number][] => {
    const { lastCalls } = stage.engine.orderState();
    return lastCalls.map(({ id, at }): [string, number] => [id, Number(at.toFixed(3))]).reverse();
  };

  test('fades over beats, and runs as long, while the tempo changes', () => {
    const stage = rig([], [moment('1', [level({ fadeBeats: beats(4), delayBeats: beats(2) })])]);
    go(stage);
    stage.pass(2000);
    setTempo(stage, 60);
    expect(stage.engine.orderState().running).toHaveLength(1);
    stage.pass(1999);
    expect(log(stage).at(-1)![1]).toMatch(/^slot 1 = 25[0-4]/);
    expect(stage.engine.orderState().running).toHaveLength(1);
    stage.pass(2);
    expect(log(stage).at(-1)).toEqual([4000, 'slot 1 = 255 (100 %)']);
    expect(stage.engine.orderState().running).toEqual([]);
    // The delay of two beats was over before the first level.
    expect(log(stage)[0]![0]).toBeGreaterThan(1000);
  });

  test.each<[string, MomentSend[]]>([
    ['one thing after a delay', [sends({ ...fog, delayBeats: beats(4) })]],
    ['something at once and something later', [sends(fog), sends({ ...fog, delayBeats: beats(4) })]],
    [
      'something that fades and something later',
      [level({ fadeMs: 700 }), sends({ ...fog, delayBeats: beats(4) })],
    ],
  ])('is over once it has done %s', (_, what) => {
    const stage = rig([], [moment('1', what)]);
    go(stage);
    stage.pass(1999);
    expect(stage.engine.orderState().running).toMatchObject([{ id: 'm1', endsAt: 2000 }]);
    stage.pass(2);
    expect(stage.engine.orderState().running).toEqual([]);
    expect(stage.engine.wakeAt()).toBe(Infinity);
  });

  test('ramps what is no slot over beats, and ends on the bar', () => {
    const stage = rig([], [moment('1', [sends(fog, { fadeBeats: beats(4, 'bar') } as Partial<MomentSend>)])]);
    stage.pass(300);
    go(stage);
    stage.pass(5000);
    expect(log(stage).at(-1)).toEqual([2000, expect.stringMatching(/^\/fog 1/)]);
  });

  test('follows a bar after the end of the one before it, wherever the tempo puts that end', () => {
    const follow = { after: 'end' as const, ms: 0, beats: beats(4) };
    const stage = rig(
      [],
      [moment('1', [level({ fadeBeats: beats(4) })]), moment('2', [sends(fog)], { follow })],
    );
    go(stage);
    stage.pass(1000);
    setTempo(stage, 240);
    // Two beats at 120, two at 240; then four at 240, of which the tempo changes the last two.
    stage.pass(1000);
    setTempo(stage, 60);
    stage.pass(5000);
    expect(called(stage)).toEqual([
      ['m1', 0],
      ['m2', 4000],
    ]);
  });

  test('that is called on the bar waits for it, and a second Go calls it at once', () => {
    const stage = rig(
      [],
      [moment('1', [sends(fog)], { callOn: 'bar' }), moment('2', [sends(fog)], { callOn: 'beat' })],
    );
    stage.pass(700);
    go(stage);
    expect(stage.engine.orderState().following).toEqual([{ id: 'm1', at: 2000 }]);
    stage.pass(1500);
    go(stage);
    stage.pass(50);
    go(stage);
    stage.pass(2000);
    expect(called(stage)).toEqual([
      ['m1', 2000],
      ['m2', 2250],
    ]);
  });

  test('is not called on a beat that was waited for before Panic', () => {
    const stage = rig([], [moment('1', [sends(fog)], { callOn: 'bar' })]);
    stage.pass(700);
    go(stage);
    stage.give({ t: 'panic', desk: '' });
    stage.pass(5000);
    expect(called(stage)).toEqual([]);
  });

  test('that is held goes on with as many beats as were left, and is on the beat again', () => {
    const stage = rig([], [moment('1', [level({ fadeBeats: beats(4) })])]);
    go(stage);
    stage.pass(1000);
    stage.give({ t: 'order', act: { do: 'hold' }, desk: '' });
    stage.pass(3100);
    stage.give({ t: 'order', act: { do: 'resume' }, desk: '' });
    stage.pass(5000);
    // It was held after two of four beats, for 6.2 beats: it ends on beat 10, at 5000 ms, and not at 5100 ms.
    expect(log(stage).at(-1)![0]).toBe(5000);
  });
});

test('any changes of the tempo leave what ends on a beat on a whole one', () => {
  const changes = fc.array(fc.tuple(fc.integer({ min: 20, max: 400 }), fc.integer({ min: 1, max: 900 })), {
    maxLength: 12,
  });
  const ease = made({ hear: pad, sends: [fog], shape: { glideBeats: beats(8, 'beat'), out: [0, 1] } });
  fc.assert(
    fc.property(changes, fc.nat(2000), (list, first) => {
      const stage = rig([ease]);
      hit(stage);
      stage.pass(first);
      stage.sent.length = 0;
      stage.give({ t: 'heard', line: PADS, signal: press(36, 20) });
      for (const [bpm, ms] of list) {
        stage.pass(ms);
        const over = stage.engine.wakeAt() === Infinity;
        if (over) break;
        setTempo(stage, bpm);
      }
      stage.pass(60_000);
      const end = stage.sent.at(-1)!;
      const off = beat(stage, end.at) % 1;
      expect(Math.min(off, 1 - off)).toBeLessThan(1e-6);
    }),
    { numRuns: 60 },
  );
});
