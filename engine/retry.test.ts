import { expect, jest, test } from '@jest/globals';
import { createTimers, waitBefore } from './drivers/retry.js';

test('after a line is closed nothing is tried again, and nothing new is begun', () => {
  jest.useFakeTimers();
  const done: string[] = [];
  const timers = createTimers();
  timers.later(100, () => done.push('before'));
  jest.advanceTimersByTime(100);
  timers.later(100, () => done.push('running'));
  timers.stop();
  timers.later(100, () => done.push('after'));
  jest.advanceTimersByTime(1000);
  jest.useRealTimers();
  expect(done).toEqual(['before']);
});

test('each try waits longer than the one before, up to four seconds', () => {
  expect([0, 1, 2, 3, 4, 50].map(waitBefore)).toEqual([250, 500, 1000, 2000, 4000, 4000]);
});
