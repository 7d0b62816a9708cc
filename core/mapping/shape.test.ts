import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { makeShape, type Shape } from '../show/shape.js';
import { shapeValue } from './shape.js';

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
