/** The engine is a function of its seed and its inputs with their instants: what was recorded once leaves again, byte for byte. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { encodeSignal } from '../bytes.js';
import {
  anyNote,
  control,
  createEngine,
  LINES,
  made,
  PADS,
  press,
  release,
  SCORE,
  show,
  type Outs,
} from '../engine.test-helper.js';
import type { EngineInput } from '../engine.js';
import { newRoute } from '../routes/words.js';
import { runs } from '../runs.test-helper.js';
import { makeSend } from '../sends.js';
import type { Hear } from '../hears.js';
import type { Mapping } from '../show/mapping.js';
import { makeMoment, makeMomentSend } from '../show/moment.js';
import type { Route } from '../show/route.js';
import type { Show } from '../show.js';

const pad = (number: number, message: 'pressed' | 'held' = 'held'): Hear =>
  ({ ...anyNote(message), numbers: [number, number] }) as Hear;
const fader = (number: number): Hear =>
  ({ message: 'control', lineId: 'pads', channels: 'any', numbers: [number, number], values: 'any' }) as Hear;

/** Something of everything that takes time or chance. */
const MAPPINGS: Mapping[] = [
  made({
    id: 'held',
    hear: pad(36),
    sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, delayMs: 30 })],
  }),
  made({
    id: 'typed',
    hear: pad(37),
    sends: [makeSend({ kind: 'key', lineId: 'stream', code: 'F4', repeatMs: 80 })],
  }),
  made({
    id: 'dice',
    hear: pad(38, 'pressed'),
    sends: [makeSend({ kind: 'control', lineId: 'laser', channel: 0, number: 7 })],
    shape: { each: 'dice' },
  }),
  made({
    id: 'glide',
    hear: fader(1),
    sends: [makeSend({ kind: 'control', lineId: 'laser', channel: 1, number: 1 })],
    shape: { glideMs: 200 },
  }),
  made({
    id: 'faded',
    hear: fader(2),
    sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 5, fadeMs: 300 })],
    shape: { out: [0, 255] },
  }),
  made({
    id: 'go',
    hear: pad(40, 'pressed'),
    sends: [makeSend({ kind: 'call', lineId: null, momentId: null })],
  }),
];
const moment = (cue: string, level: number, fadeMs: number, followMs: number | null) =>
  makeMoment({
    id: cue,
    cue,
    name: `Moment ${cue}`,
    follow: followMs === null ? null : { after: 'start', ms: followMs },
    sends: [
      makeMomentSend({ kind: 'levels', lineId: 'rig', levels: [{ slots: [1, 6], level }], fadeMs }),
      makeMomentSend({
        kind: 'send',
        send: makeSend({ kind: 'note', lineId: 'score', channel: 2, number: 40, lengthMs: 150 }),
        value: 80,
      }),
    ],
  });

const SHOW: Show = show(MAPPINGS, (given) => {
  given.lines = given.lines.map((line) => (line.id === 'laser' ? { ...line, delayMs: 45 } : line));
  given.moments = [moment('1', 200, 500, null), moment('2', 40, 250, 90), moment('3', 0, 400, null)];
  given.routes = [{ ...newRoute('midi', 'pads', 'score'), id: 'r' } as Route];
});

const number = fc.integer({ min: 35, max: 41 });
const heard = fc.oneof(
  fc.tuple(number, fc.integer({ min: 1, max: 127 })).map(([of, force]) => press(of, force)),
  number.map((of) => release(of)),
  fc
    .tuple(fc.integer({ min: 1, max: 2 }), fc.integer({ min: 0, max: 127 }))
    .map(([of, value]) => control(of, value)),
);
const edited = fc
  .integer({ min: 0, max: MAPPINGS.length - 1 })
  .chain((order) =>
    fc.constantFrom<EngineInput>(
      { t: 'mapping', order, row: { ...MAPPINGS[order]!, on: false } },
      { t: 'mapping', order, row: MAPPINGS[order]! },
    ),
  );
const asked = fc.constantFrom<EngineInput>(
  { t: 'order', act: { do: 'go' }, desk: 'left' },
  { t: 'order', act: { do: 'hold' }, desk: 'left' },
  { t: 'order', act: { do: 'resume' }, desk: 'left' },
  { t: 'order', act: { do: 'stopAll', ms: 200 }, desk: 'left' },
  { t: 'order', act: { do: 'standBy', id: '1', catchUp: true }, desk: 'left' },
  { t: 'panic', desk: 'left' },
  { t: 'armed', armed: false },
  { t: 'armed', armed: true },
  { t: 'tap' },
  { t: 'tempo', bpm: 97 },
  { t: 'lineGone', line: PADS },
  { t: 'lineBack', line: SCORE },
  { t: 'tryMapping', id: 'held', pressed: true },
  { t: 'tryMapping', id: 'held', pressed: false },
  { t: 'moments', show: SHOW },
  { t: 'show', show: SHOW, lineIndex: LINES },
);
const input = fc.oneof(
  { weight: 6, arbitrary: heard.map((signal): EngineInput => ({ t: 'heard', line: PADS, signal })) },
  { weight: 2, arbitrary: asked },
  { weight: 1, arbitrary: edited },
);

/** All that leaves, with its bytes. */
const left = (outs: Outs): unknown[] =>
  Array.from({ length: outs.count }, (_, at) => [
    outs.line[at],
    Buffer.from(encodeSignal(outs.signal[at]!)).toString('hex'),
    outs.sender[at],
    outs.heldBack[at],
    outs.dropped[at],
    outs.lamp[at],
    outs.because[at],
  ]);

test('what was recorded leaves again at the same instants, from inputs that are copies', () => {
  const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 120 }), input), { minLength: 10, maxLength: 60 });
  let things = 0;
  fc.assert(
    fc.property(steps, fc.integer({ min: 1, max: 1000 }), (list, seed) => {
      const tape: { input: EngineInput; now: number; left: unknown[] }[] = [];
      const engine = createEngine(seed);
      const take = (given: EngineInput, now: number): void => {
        // Copied before, since the engine may not change what it is given either.
        const copy = structuredClone(given);
        tape.push({ input: copy, now, left: left(engine.take(given, now)) });
        expect(given).toEqual(copy);
      };
      take({ t: 'show', show: SHOW, lineIndex: LINES }, 0);
      let now = 0;
      for (const [ms, one] of list) {
        for (let at = engine.wakeAt(); at <= now + ms; at = engine.wakeAt()) take({ t: 'wake' }, at);
        now += ms;
        take(one, now);
      }
      const again = createEngine(seed);
      for (const { input: one, now: at, left: wanted } of tape) {
        things += wanted.length;
        expect(left(again.take(one, at))).toEqual(wanted);
      }
      expect(again.wakeAt()).toBe(engine.wakeAt());
    }),
    { numRuns: runs(100) },
  );
  expect(things).toBeGreaterThan(runs(100) * 5);
});

/** The show without some of its mappings, so that others are loaded than before. */
const without = (gone: readonly number[]): Show => ({
  ...SHOW,
  mappings: SHOW.mappings.filter((_, at) => !gone.includes(at)),
  moments: SHOW.moments.map((one) => ({ ...one, callers: [pad(41, 'pressed')] })),
});

test('a show that was made ready before it is loaded plays as one that was not', () => {
  const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 120 }), input), { minLength: 5, maxLength: 30 });
  const other = fc.array(fc.nat(MAPPINGS.length - 1), { maxLength: 3 });
  fc.assert(
    fc.property(steps, steps, other, fc.nat(30), fc.nat(30), (first, second, gone, before, after) => {
      const [plain, ahead] = [createEngine(7), createEngine(7)];
      let now = 0;
      const both = (given: EngineInput): void =>
        expect(left(ahead.take(given, now))).toEqual(left(plain.take(given, now)));
      const play = (list: typeof first): void => {
        for (const [ms, one] of list) {
          now += ms;
          both({ t: 'wake' });
          both(one);
        }
      };
      both({ t: 'show', show: SHOW, lineIndex: LINES });
      play(first);
      const next = without(gone);
      // Once for lines that are elsewhere by then; then part of it before what is played meanwhile, and more of it, or all, after that.
      ahead.prepare(next, new Map([...LINES].reverse())).next();
      const making = ahead.prepare(next, LINES);
      const make = (count: number): void => {
        for (let done = 0; done < count; done++) making.next();
      };
      make(before);
      play(second);
      make(after);
      both({ t: 'show', show: next, lineIndex: LINES });
      play(first);
      expect(ahead.wakeAt()).toBe(plain.wakeAt());
    }),
    { numRuns: runs(60) },
  );
});
