/** Presses that come twice, late, or after the engine that did them has died. Without a source: the rule is ours. */
import { expect, test } from '@jest/globals';
import { createPresses, LATE_MS } from './presses.js';

test('a press acts once, however often it comes; what nobody named acts each time', () => {
  const presses = createPresses();
  const take = (id: string): string => presses.take({ id, lateMs: 20 }, 'go');
  expect([take('a'), take('a'), take('b'), take('a')]).toEqual(['act', 'done', 'act', 'done']);
  expect([presses.take(null, 'go'), presses.take(null, 'go')]).toEqual(['act', 'act']);
});

test('a Go that was held up is refused; what stops something is not; one that was done is answered however late', () => {
  const presses = createPresses();
  expect(presses.take({ id: 'a', lateMs: LATE_MS }, 'go')).toBe('act');
  expect(presses.take({ id: 'late', lateMs: LATE_MS + 1 }, 'go')).toBe('late');
  expect(presses.take({ id: 'late', lateMs: LATE_MS + 50 }, 'call')).toBe('late');
  expect(presses.take({ id: 'a', lateMs: 9000 }, 'go')).toBe('done');
  for (const what of ['hold', 'stop', 'stopAll'] as const)
    expect(presses.take({ id: what, lateMs: 9000 }, what)).toBe('act');
});

test('the engine after it does not do it again; what is remembered and left is bounded', () => {
  const presses = createPresses();
  for (let n = 0; n <= 500; n++) presses.take({ id: `p${n}`, lateMs: 0 }, 'go');
  expect(presses.take({ id: 'p500', lateMs: 0 }, 'go')).toBe('done');
  expect(presses.take({ id: 'p0', lateMs: 0 }, 'go')).toBe('act');
  const left = presses.left();
  expect(left).toHaveLength(20);
  const after = createPresses();
  after.begin(left);
  expect([after.take({ id: 'p500', lateMs: 0 }, 'go'), after.take({ id: 'p1', lateMs: 0 }, 'go')]).toEqual([
    'done',
    'act',
  ]);
});
