import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { controlOf, readControl, writeControl, type Control } from './control.js';
import { createControlWatch, JUDGED_MS, type ControlWatch, type Restless } from './watch.js';

/** Values at these times, and what is seen right after the last. */
function watch(
  values: readonly number[],
  everyMs: number,
  high: number | null = 127,
): ControlWatch & { end: number } {
  const made = createControlWatch(high);
  values.forEach((value, at) => made.add(value, at * everyMs));
  return { ...made, end: (values.length - 1) * everyMs };
}
const restless = (values: readonly number[], everyMs: number, high: number | null = 127): Restless | null => {
  const { look, end } = watch(values, everyMs, high);
  return look(end).restless;
};

/** Numbers 0–1 that are always the same. */
function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}
const dust = (about: number, by: number, count: number, seed = 7): number[] => {
  const roll = dice(seed);
  return Array.from({ length: count }, () => about + Math.floor(roll() * (2 * by + 1)) - by);
};

describe('a control that changes with nobody touching it', () => {
  test('is found, with about which value and a deadband that would quiet it', () => {
    expect(restless(dust(64, 2, 100), 60)).toMatchObject({ least: 62, most: 66, deadband: 4 });
    expect(restless(dust(64, 2, 100), 60)!.mean).toBeCloseTo(64, 0);
  });

  test('is found on an OSC address too, whose range only what is seen tells', () => {
    expect(
      restless(
        dust(500, 3, 100).map((value) => value / 1000),
        50,
        null,
      ),
    ).not.toBeNull();
  });

  test('is not a fader that is moved, slowly or fast, nor one that is moved to and fro by hand', () => {
    const slowly = Array.from({ length: 60 }, (_, at) => 40 + Math.floor(at / 10));
    const fast = Array.from({ length: 100 }, (_, at) => at);
    const byHand = Array.from({ length: 200 }, (_, at) => 64 + Math.round(30 * Math.sin(at / 10)));
    for (const values of [slowly, fast, byHand]) expect(restless(values, 50)).toBeNull();
  });

  test('is not a button, nor a control that is at rest', () => {
    expect(
      restless(
        Array.from({ length: 40 }, (_, at) => (at % 2) * 127),
        100,
      ),
    ).toBeNull();
    expect(restless(Array<number>(100).fill(64), 50)).toBeNull();
    const { look, end } = watch(dust(64, 2, 100), 60);
    expect(look(end + JUDGED_MS).restless).toBeNull();
  });

  test('with the deadband that is offered, nothing of what was seen would pass, wherever it began', () => {
    fc.assert(
      fc.property(fc.nat(127), fc.integer({ min: 1, max: 4 }), fc.nat(10_000), (about, by, seed) => {
        const values = dust(about, by, 80, seed);
        const found = restless(values, 50);
        if (!found) return;
        for (const start of new Set(values))
          expect(values.filter((value) => Math.abs(value - start) > found.deadband)).toEqual([]);
      }),
    );
  });
});

test('what was seen is counted: least, most, how many values, how many a second', () => {
  const { look, end, samples } = watch([10, 20, 20, 90, 5], 500);
  expect(look(end)).toMatchObject({ count: 5, last: 5, least: 5, most: 90, distinct: 4, perSecond: 2 });
  expect(samples()).toHaveLength(5);
  expect(createControlWatch(127).look(0)).toMatchObject({
    count: 0,
    last: null,
    least: null,
    restless: null,
  });
});

test('what is long ago is not kept, however much comes', () => {
  const made = createControlWatch(127);
  for (let at = 0; at < 200_000; at += 2) made.add(at % 128, at);
  expect(made.samples().length).toBeLessThan(20_001);
  expect(made.look(200_000).count).toBe(100_000);
});

test('a control is found in what it sends, and again by its address', () => {
  expect(controlOf({ kind: 'noteOff', channel: 9, number: 36, value: 64 })).toEqual({
    control: { kind: 'note', channel: 9, number: 36 },
    value: 0,
  });
  expect(
    controlOf({
      kind: 'osc',
      address: '/fog',
      args: [
        { type: 's', value: 'x' },
        { type: 'f', value: 0.5 },
      ],
    }),
  ).toEqual({
    control: { kind: 'osc', address: '/fog' },
    value: 0.5,
  });
  expect(controlOf({ kind: 'osc', address: '/fog', args: [] })).toBeNull();
  const channel = fc.nat(15);
  const numbered = fc.record({ kind: fc.constantFrom('note', 'cc', 'touch'), channel, number: fc.nat(127) });
  const ofChannel = fc.record({ kind: fc.constantFrom('bend', 'pressure', 'program'), channel });
  const slot = fc.record({ kind: fc.constant('slot'), slot: fc.integer({ min: 1, max: 512 }) });
  const osc = fc.record({ kind: fc.constant('osc'), address: fc.string().map((text) => `/${text}`) });
  fc.assert(
    fc.property(fc.oneof(numbered, ofChannel, slot, osc) as fc.Arbitrary<Control>, (control) => {
      expect(readControl(writeControl(control))).toEqual(control);
    }),
  );
  for (const text of ['', 'cc', 'cc-1', 'fader-1', 'osc-%', 'slot-x']) expect(readControl(text)).toBeNull();
});
