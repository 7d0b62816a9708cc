/** The trace of the last minute of a line. */
import { expect, test } from '@jest/globals';
import { createTraces, TRACE_SECONDS } from './traces';

const last = (list: readonly unknown[], seconds: number): unknown[] => list.slice(TRACE_SECONDS - seconds);

test('counts what passed in each second, and what passed before is not counted', () => {
  const traces = createTraces();
  traces.note('pads', { inCount: 5000, outCount: 10 }, 1000);
  traces.note('pads', { inCount: 5003, outCount: 10 }, 1500);
  traces.note('pads', { inCount: 5004, outCount: 12 }, 2100);
  expect(last(traces.of('pads', 3900).in, 3)).toEqual([3, 1, 0]);
  expect(last(traces.of('pads', 3900).out, 3)).toEqual([0, 2, 0]);
});

test('a line that is gone and back within a second is seen', () => {
  const traces = createTraces();
  traces.opened('water', true, 1000);
  traces.opened('water', false, 2200);
  traces.opened('water', true, 2600);
  expect(last(traces.of('water', 4000).down, 4)).toEqual([false, true, false, false]);
});

test('a line that stays away is marked in each second', () => {
  const traces = createTraces();
  traces.opened('water', false, 1000);
  expect(last(traces.of('water', 4000).down, 4)).toEqual([true, true, true, true]);
});

test('after a long silence, and after its totals began again, nothing is counted twice', () => {
  const traces = createTraces();
  traces.note('pads', { inCount: 100, outCount: 0 }, 0);
  traces.note('pads', { inCount: 2, outCount: 0 }, 1000);
  traces.note('pads', { inCount: 4, outCount: 0 }, 5_000_000);
  const { in: heard } = traces.of('pads', 5_000_000);
  expect(heard.reduce((sum, one) => sum + one, 0)).toBe(2);
  expect(heard).toHaveLength(TRACE_SECONDS);
});
