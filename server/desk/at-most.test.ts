/** What is done at once, and not again for each wish. No source: our own rule. */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { atMost } from './at-most.js';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('is done at once, and once more for a thousand wishes that follow', () => {
  let done = 0;
  const wish = atMost(20, () => done++);
  for (let wishes = 0; wishes < 1000; wishes++) wish();
  expect(done).toBe(1);
  jest.advanceTimersByTime(20);
  expect(done).toBe(2);
  jest.advanceTimersByTime(60);
  expect(done).toBe(2);
  wish();
  expect(done).toBe(3);
});
