import { expect, test } from '@jest/globals';
import { makeShape, type Shape } from '@tawny-signal/core/show/shape';
import { placeOf } from './curve';

const shape = (given: Partial<Shape>): Shape =>
  makeShape({ from: 'value', in: [0, 127], out: [0, 1], curve: 'straight', ...given });

test('a value is drawn between the ends of both scales', () => {
  expect(placeOf(shape({ in: [0, 100], out: [10, 20] }), 50)).toEqual({ x: 0.5, y: 0.5 });
  expect(placeOf(shape({}), 200)).toEqual({ x: 1, y: 1 });
});

test('a scale that is turned over falls', () => {
  expect(placeOf(shape({ out: [1, 0] }), 0).y).toBe(1);
  expect(placeOf(shape({ out: [1, 0] }), 127).y).toBe(0);
});

test('a scale without height is drawn in the middle', () => {
  expect(placeOf(shape({ out: [1, 1] }), 64).y).toBe(0.5);
});
