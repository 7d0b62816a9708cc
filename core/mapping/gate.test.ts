import { expect, test } from '@jest/globals';
import { ALWAYS, type When } from '../show/when.js';
import { createGate } from './gate.js';

/** Which of these values, at these times, are heeded. */
function heeded(given: Partial<When>, ...values: [value: number, at: number][]): number[] {
  const gate = createGate({ ...ALWAYS, ...given });
  return values.filter(([value, at]) => (gate?.keeps(value, at) ?? null) === null).map(([, at]) => at);
}

test('always, where nothing else is wished', () => {
  expect(createGate(ALWAYS)).toBeNull();
});

test('at most once in a time', () => {
  expect(heeded({ onceInMs: 100 }, [1, 0], [1, 50], [1, 99], [1, 100], [1, 250])).toEqual([0, 100, 250]);
});

test('the second of two within a time, and then two more are wanted', () => {
  expect(heeded({ twiceInMs: 300 }, [1, 0], [1, 200], [1, 400], [1, 900], [1, 1100])).toEqual([200, 1100]);
});

test('only another value than before', () => {
  expect(heeded({ changed: true }, [5, 0], [5, 1], [6, 2], [5, 3])).toEqual([0, 2, 3]);
});

test('as it rises to a value, and again only once it was below by so much', () => {
  const crossing = { way: 'rises', at: 64, back: 10 } as const;
  expect(heeded({ crossing }, [10, 0], [64, 1], [70, 2], [60, 3], [64, 4], [53, 5], [127, 6])).toEqual([
    1, 6,
  ]);
});

test('as it falls below a value; the first low value is no fall', () => {
  const crossing = { way: 'falls', at: 20, back: 0 } as const;
  expect(heeded({ crossing }, [5, 0], [30, 1], [19, 2], [3, 3], [20, 4], [0, 5])).toEqual([2, 5]);
});
