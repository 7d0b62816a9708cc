import { expect, test } from '@jest/globals';
import { ALWAYS, type When } from '../show/when.js';
import { createGate } from './gate.js';

/** The times of those of these values that pass the gate. */
function passed(given: Partial<When>, ...values: [value: number, at: number][]): number[] {
  const gate = createGate({ ...ALWAYS, ...given });
  return values.filter(([value, at]) => (gate?.keeps(value, at) ?? null) === null).map(([, at]) => at);
}

test('always, where nothing else is wished', () => {
  expect(createGate(ALWAYS)).toBeNull();
});

test('at most once in a time', () => {
  expect(passed({ onceInMs: 100 }, [1, 0], [1, 50], [1, 99], [1, 100], [1, 250])).toEqual([0, 100, 250]);
});

test('the second of two within a time, and then two more are wanted', () => {
  expect(passed({ twiceInMs: 300 }, [1, 0], [1, 200], [1, 400], [1, 900], [1, 1100])).toEqual([200, 1100]);
});

test('only another value than before', () => {
  expect(passed({ changed: true }, [5, 0], [5, 1], [6, 2], [5, 3])).toEqual([0, 2, 3]);
});

test('as it rises to a value, and again only once it was below by so much', () => {
  const crossing = { way: 'rises', at: 64, back: 10 } as const;
  expect(passed({ crossing }, [10, 0], [64, 1], [70, 2], [60, 3], [64, 4], [53, 5], [127, 6])).toEqual([
    1, 6,
  ]);
});

test('as it falls below a value; the first low value is no fall', () => {
  const crossing = { way: 'falls', at: 20, back: 0 } as const;
  expect(passed({ crossing }, [5, 0], [30, 1], [19, 2], [3, 3], [20, 4], [0, 5])).toEqual([2, 5]);
});

test('what comes exactly at the edge of going back counts as not there yet as it rises, and as there as it falls', () => {
  const rises = { way: 'rises', at: 64, back: 10 } as const;
  expect(passed({ crossing: rises }, [64, 0], [54, 1], [64, 2], [53, 3], [64, 4])).toEqual([0, 4]);
  const falls = { way: 'falls', at: 64, back: 10 } as const;
  expect(passed({ crossing: falls }, [74, 0], [63, 1], [73, 2], [63, 3], [74, 4], [63, 5])).toEqual([1, 5]);
});

test('the second of two exactly at the end of the time counts; one later is a first', () => {
  expect(passed({ twiceInMs: 300 }, [1, 0], [1, 300], [1, 400], [1, 701], [1, 1001])).toEqual([300, 1001]);
});

test('all conditions must be met, and a value that was ignored counts as the value before', () => {
  expect(passed({ changed: true, onceInMs: 100 }, [1, 0], [2, 50], [2, 120], [3, 130])).toEqual([0, 130]);
  const gate = createGate({ ...ALWAYS, changed: true, onceInMs: 100 })!;
  expect([gate.keeps(1, 0), gate.keeps(2, 50), gate.keeps(2, 120)]).toEqual([null, 'tooSoon', 'unchanged']);
  const both = createGate({ ...ALWAYS, twiceInMs: 100, crossing: { way: 'rises', at: 5, back: 0 } })!;
  expect([both.keeps(9, 0), both.keeps(9, 1), both.keeps(0, 2), both.keeps(9, 3)]).toEqual([
    'notTwice',
    'notCrossed',
    'notCrossed',
    null,
  ]);
});
