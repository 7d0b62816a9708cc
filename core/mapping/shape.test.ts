import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { makeShape, type Shape } from '../show/shape.js';
import { byHand } from './heard.js';
import { createShaper, curveValue, finishValue, seedOf, shapeValue, stepsOf, type Shaper } from './shape.js';

const shape = (given: Partial<Shape>): Shape =>
  makeShape({ from: 'value', in: [0, 127], out: [0, 1], curve: 'straight', ...given });

// Common practice: an audio volume 0 to 1 is velocity divided by 127.
test.each([0, 1, 64, 100, 127])('velocity %i becomes itself divided by 127', (velocity) => {
  expect(shapeValue(shape({}), velocity)).toBeCloseTo(velocity / 127, 12);
});

test('ends the other way round turn the value over', () => {
  expect(shapeValue(shape({ out: [1, 0] }), 127)).toBe(0);
  expect(shapeValue(shape({ out: [1, 0] }), 0)).toBe(1);
});

test('a value outside its range is kept at the end', () => {
  expect(shapeValue(shape({ in: [20, 100] }), 5)).toBe(0);
  expect(shapeValue(shape({ in: [20, 100] }), 127)).toBe(1);
});

test('a slow start is a square, a fast start a square root', () => {
  expect(shapeValue(shape({ in: [0, 1], curve: 'slow-start' }), 0.5)).toBeCloseTo(0.25, 12);
  expect(shapeValue(shape({ in: [0, 1], curve: 'fast-start' }), 0.25)).toBeCloseTo(0.5, 12);
});

test('every curve keeps both ends exactly and never turns back', () => {
  const ends = fc.tuple(fc.integer({ min: -500, max: 500 }), fc.integer({ min: -500, max: 500 }));
  fc.assert(
    fc.property(
      ends.filter(([from, to]) => from !== to),
      ends,
      fc.constantFrom<Shape['curve']>('straight', 'slow-start', 'fast-start', 'slow-ends'),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (input, out, curve, a, b) => {
        const s = shape({ in: input, out, curve });
        expect(shapeValue(s, input[0])).toBe(out[0]);
        expect(shapeValue(s, input[1])).toBe(out[1]);
        const at = (place: number): number => shapeValue(s, input[0] + place * (input[1] - input[0]));
        const rise = (at(Math.max(a, b)) - at(Math.min(a, b))) * Math.sign(out[1] - out[0]);
        expect(rise).toBeGreaterThanOrEqual(-1e-9);
      },
    ),
  );
});

test('a table goes straight between its points, and has the end’s value beyond its ends', () => {
  const table = shape({
    curve: 'table',
    table: [
      [10, 1],
      [20, 3],
      [40, 0],
    ],
  });
  expect([0, 10, 15, 20, 30, 40, 99].map((value) => curveValue(table, value))).toEqual([
    1, 1, 2, 3, 1.5, 0, 0,
  ]);
  expect(curveValue(shape({ curve: 'table' }), 127)).toBe(1);
  expect(curveValue(shape({ curve: 'table' }), 63.5)).toBe(0.5);
});

test('slow at both ends is half way at half, and 5/32 at a quarter', () => {
  // 3x² − 2x³, the smooth step of textbooks.
  const slow = shape({ in: [0, 1], curve: 'slow-ends' });
  expect([0.25, 0.5].map((value) => curveValue(slow, value))).toEqual([0.15625, 0.5]);
});

test('what is made is moved, kept within limits, put in steps, and rounded, in this order', () => {
  const finish = (given: Partial<Shape>, value: number): number => finishValue(shape(given), value);
  expect(finish({ offset: 2 }, 1)).toBe(3);
  expect([5, 15, 95].map((value) => finish({ limits: [10, 90] }, value))).toEqual([10, 15, 90]);
  expect(finish({ limits: [10, 90], offset: -20 }, 95)).toBe(75);
  expect([0, 0.24, 0.26, 0.5, 0.76, 1].map((value) => finish({ steps: 3 }, value))).toEqual([
    0, 0, 0.5, 0.5, 1, 1,
  ]);
  expect([10, 14, 16, 20].map((value) => finish({ steps: 2, out: [10, 20] }, value))).toEqual([
    10, 10, 20, 20,
  ]);
  expect(finish({ steps: 2, out: [20, 10] }, 12)).toBe(10);
  expect(finish({ steps: 4, out: [5, 5] }, 7)).toBe(7);
  expect([0.4, 0.5].map((value) => finish({ round: true }, value))).toEqual([0, 1]);
  expect(finish({ steps: 3, out: [0, 5], round: true }, 2.4)).toBe(3);
});

describe('a shape that remembers', () => {
  const taken = (shaper: Shaper, ...values: number[]): (number | string)[] =>
    values.map((value) => shaper.take(value, byHand(value, 60), 0) ?? shaper.why);
  const made = (given: Partial<Shape>, seed = 1): Shaper =>
    createShaper(shape({ out: [0, 127], ...given }), seed);

  test('lets a change of more than its deadband pass, from what passed last', () => {
    expect(taken(made({ deadband: 3 }), 10, 13, 14, 12, 11, 10)).toEqual([
      10,
      'deadband',
      14,
      'deadband',
      'deadband',
      10,
    ]);
    const low = made({ deadband: 3 });
    taken(low, 100);
    expect(low.low()).toBe(0);
    // What was let go is where it is now.
    expect(taken(low, 3, 4)).toEqual(['deadband', 4]);
    expect([low.lowEnd(), ...taken(low, 4)]).toEqual([0, 'deadband']);
  });

  test('toggles between the ends, or walks a list, at each press; a release is none', () => {
    expect(taken(made({ each: 'toggle', out: [5, 9] }), 100, 0, 1, 100)).toEqual([9, 'buttonUp', 5, 9]);
    expect(taken(made({ each: 'list', list: [3, 7, 4] }), 1, 1, 0, 1, 1)).toEqual([3, 7, 'buttonUp', 4, 3]);
    expect(taken(made({ each: 'list', list: [] }), 1, 1)).toEqual([127, 0]);
  });

  test('throws dice within its range, other ones for another seed', () => {
    const throws = (seed: number): (number | string)[] =>
      taken(made({ each: 'dice', out: [10, 20] }, seed), 1, 1, 1, 0);
    const [a, b, c, up] = throws(1);
    expect([a, b, c].every((value) => Number(value) >= 10 && Number(value) < 20)).toBe(true);
    expect(new Set([a, b, c]).size).toBe(3);
    expect(up).toBe('buttonUp');
    expect(throws(1)).toEqual([a, b, c, up]);
    expect(throws(2)).not.toEqual([a, b, c, up]);
    expect(new Set([seedOf('a', 1), seedOf('b', 1), seedOf('ab', 1), seedOf('a', 9)]).size).toBe(4);
  });

  // Common practice: two's complement, an offset of 64, and a sign bit.
  test('adds up the steps of a dial in its coding, and stays within the ends', () => {
    expect([1, 63, 64, 127].map((value) => stepsOf('two', value))).toEqual([1, 63, -64, -1]);
    expect([0, 63, 64, 65, 127].map((value) => stepsOf('offset', value))).toEqual([-64, -1, 0, 1, 63]);
    expect([1, 63, 64, 65, 127].map((value) => stepsOf('sign', value))).toEqual([1, 63, 0, -1, -63]);
    const dial = made({ each: 'dial', in: [0, 10], out: [0, 100] });
    expect(taken(dial, 3, 127, 20, 126, 64)).toEqual([30, 20, 100, 80, 0]);
    expect(taken(made({ each: 'dial', in: [10, 0], out: [0, 100] }), 3)).toEqual([70]);
  });

  test('is picked up where the value was, from either side, once its bank is back', () => {
    const fader = made({ pickUp: true });
    expect(taken(fader, 60)).toEqual([60]);
    fader.resume();
    expect(taken(fader, 10, 50, 61, 20)).toEqual(['pickUp', 'pickUp', 61, 20]);
    fader.resume();
    expect(taken(fader, 90, 19, 100)).toEqual(['pickUp', 19, 100]);
    fader.resume();
    // Near enough: within a sixtieth of what it can say, here 2.1.
    expect(taken(fader, 97, 98)).toEqual(['pickUp', 98]);
    const fresh = made({ pickUp: true });
    fresh.resume();
    expect(taken(fresh, 5)).toEqual([5]);
  });

  test('reckons with what was heard, with what it made before, and with the beat', () => {
    const formula = made({ curve: 'formula', formula: 'was + value + number / 10 + channel' });
    const heard = { ...byHand(5, 20), channel: 2 };
    expect([formula.take(5, heard, 0), formula.take(5, heard, 0)]).toEqual([10, 20]);
    expect(made({ curve: 'formula', formula: 'beat * 2' }).take(1, heard, 1.5)).toBe(3);
    expect(made({ curve: 'formula', formula: 'force' }).take(1, heard, 0)).toBe(5);
    const divided = made({ curve: 'formula', formula: '1 / value' });
    expect(taken(divided, 0, 4)).toEqual(['noResult', 0.25]);
    expect(divided.lowEnd()).toBe(0);
    expect(made({ curve: 'formula', formula: 'value + 3' }).low()).toBe(3);
    expect(made({ curve: 'formula', formula: '' }).take(64, heard, 0)).toBe(64);
  });

  test('one that remembers nothing gives the curve’s value, and its low end', () => {
    const plain = made({});
    expect([...taken(plain, 64, 64), plain.low(), plain.lowEnd()]).toEqual([64, 64, 0, 0]);
    plain.resume();
    expect(taken(plain, 1)).toEqual([1]);
  });
});
