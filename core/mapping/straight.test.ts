/** The shortest path of a signal does what the performer does. Our own rule, so the check names no source. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  control,
  createEngine,
  LINES,
  loaded,
  made,
  PADS,
  press,
  said,
  show,
  type Engine,
} from '../engine.test-helper.js';
import { makeHear } from '../hears.js';
import { makeSend } from '../sends.js';
import type { Mapping } from '../show/mapping.js';
import type { Signal } from '../signal.js';

/** A note that is down all the time. A mapping that requires it does not go the shortest path, and is the same otherwise. */
const SHIFT = { channel: 0, number: 1 };

const anySend = fc.oneof(
  fc
    .array(
      fc.constantFrom(
        { type: 'f', value: 'shaped' } as const,
        { type: 'i', value: 'shaped' } as const,
        { type: 'f', value: 'red' } as const,
        { type: 'i', value: 'number' } as const,
        { type: 's', value: 'at {number}' } as const,
        { type: 'T' } as const,
      ),
      { maxLength: 3 },
    )
    .chain((args) => fc.constantFrom('/x', '/x/{number}').map((address) => ({ address, args })))
    .map(({ address, args }) => makeSend({ kind: 'osc', lineId: 'water', address, args })),
  fc
    .constantFrom(0, 64, 127)
    .map((number) => makeSend({ kind: 'control', lineId: 'laser', channel: 3, number })),
  fc.constant(makeSend({ kind: 'control14', lineId: 'laser', channel: 0, number: 3, range: [0, 16_383] })),
  fc.constant(makeSend({ kind: 'program', lineId: 'laser', channel: 0 })),
  fc.constant(makeSend({ kind: 'bend', lineId: 'laser', channel: 0, range: [0, 16_383] })),
  fc.boolean().map((fine) => makeSend({ kind: 'slot', lineId: 'rig', slot: 510, fine })),
);
const anyShape = fc.record({
  from: fc.constantFrom('value' as const, 'number' as const),
  curve: fc.constantFrom('straight' as const, 'slow-start' as const, 'table' as const, 'frequency' as const),
  table: fc.constantFrom([], [
    [0, 5],
    [64, 9],
  ] as [number, number][]),
  in: fc.constantFrom([0, 127] as [number, number], [100, 20] as [number, number]),
  out: fc.constantFrom([0, 127] as [number, number], [1, 0] as [number, number], [7, 7] as [number, number]),
  steps: fc.constantFrom(0, 2, 5),
  round: fc.boolean(),
  offset: fc.constantFrom(0, 3),
  limits: fc.constantFrom(null, [10, 90] as [number, number]),
});
const anyHear = fc.constantFrom(
  makeHear({ message: 'pressed', lineId: 'pads', channels: 'any', numbers: [36, 40], values: 'any' }),
  makeHear({ message: 'pressed', lineId: 'pads', channels: [2, 9], numbers: 'any', values: [20, 100] }),
  makeHear({ message: 'control', lineId: 'pads', channels: 'any', numbers: [36, 38], values: 'any' }),
  makeHear({ message: 'osc', lineId: 'pads', address: '/level/*' }),
  makeHear({ message: 'slot', lineId: 'pads', slots: 'any', values: [1, 200] }),
);
const anySignal: fc.Arbitrary<Signal> = fc
  .record({
    kind: fc.nat(3),
    number: fc.integer({ min: 34, max: 42 }),
    value: fc.nat(127),
    channel: fc.nat(10),
  })
  .map(({ kind, number, value, channel }) => {
    if (kind === 0) return press(number, Math.max(1, value), channel);
    if (kind === 1) return control(number, value, channel);
    if (kind === 2) return { kind: 'slot', slot: number, level: value * 2 };
    return { kind: 'osc', address: `/level/${number}`, args: [{ type: 'f', value }] };
  });

const base = made({ sends: [makeSend({ kind: 'program', lineId: 'laser', channel: 0 })] });

/** What leaves, what is said of it, and what the mapping remembers. */
function seen(engine: Engine, signal: Signal, now: number): unknown[] {
  const outs = engine.step(PADS, signal, now);
  const { outcome, shaped, count } = engine.trace();
  // What is said to have been heard of a refused signal depends on what was read before it.
  return [said(outs), outs.line.slice(0, outs.count), outcome.slice(0, count), shaped.slice(0, count)];
}

describe('a mapping without conditions', () => {
  test('sends, remembers and says the same as one whose condition is met', () => {
    fc.assert(
      fc.property(
        fc.array(anySend, { minLength: 1, maxLength: 3 }),
        anyShape,
        anyHear,
        fc.array(anySignal, { minLength: 1, maxLength: 30 }),
        (sends, shape, hear, signals) => {
          const row: Mapping = { ...base, hear, sends, shape: { ...base.shape, ...shape } };
          const conditional = { ...row, when: { ...row.when, shift: SHIFT } };
          const [straight, other] = [loaded([row]), loaded([conditional])];
          for (const engine of [straight, other])
            engine.step(PADS, { kind: 'noteOn', ...SHIFT, value: 1 }, 0);
          signals.forEach((signal, at) =>
            expect(seen(straight, signal, at + 1)).toEqual(seen(other, signal, at + 1)),
          );
          const [one, two] = [straight, other].map((engine) => engine.drainFired().map(({ tally }) => tally));
          expect(one).toEqual(two);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('that is given an answer knows the echo of its lamp, though it did not change otherwise', () => {
    const fader = makeHear({
      message: 'control',
      lineId: 'pads',
      channels: [1, 1],
      numbers: [7, 7],
      values: 'any',
    });
    const row: Mapping = { ...base, hear: fader };
    const answer: Mapping['answer'] = {
      lineId: 'pads',
      kind: 'control',
      channel: 1,
      number: 7,
      shows: 'value',
      bankId: null,
      on: 127,
      off: 0,
      blinkBeats: 0,
    };
    const engine = createEngine();
    engine.load(show([row]), LINES, 0);
    expect(said(engine.step(PADS, control(7, 90), 1))).toEqual(['program 90 ch 1']);
    expect(said(engine.load(show([{ ...row, answer }]), LINES, 2))).toEqual(['CC 7 ch 2 = 127']);
    expect(engine.step(PADS, control(7, 127), 4).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('echo');
  });
});
