/** What is read of a press. Without a source: the form is ours. */
import { expect, test } from '@jest/globals';
import type { Press } from '@tawny-signal/core/cues/presses';
import { EngineAway } from '../http/problems.js';
import { giveOrder, readPress, TooLate } from './presses.js';

test('a header is an id and a time, or nothing', () => {
  expect(readPress('a1 1000.5', 1500.5)).toEqual({ id: 'a1', lateMs: 500 });
  expect(readPress('a1 2000', 1500)).toEqual({ id: 'a1', lateMs: 0 });
  for (const header of [undefined, '', 'a1', ' 5', 'a1 soon', `${'x'.repeat(65)} 5`])
    expect(readPress(header, 6)).toBeNull();
});

test('a late one is refused in words', () => {
  expect(new TooLate(3000).message).toBe('Not called: 3 s late. Press again.');
});

test('a press goes to the engine after one that dies, with the time that it lost; one without an id is tried once', async () => {
  const given: (Press | null)[] = [];
  let looks = 0;
  const give = (press: Press | null) => {
    given.push(press);
    return Promise.resolve(given.length < 2 ? null : ({ t: 'ordered', ask: 1, how: 'done' } as const));
  };
  await giveOrder(give, { id: 'a', lateMs: 5 }, () => ++looks > 1);
  expect(given).toMatchObject([{ id: 'a' }, { id: 'a' }]);
  expect(given[1]!.lateMs).toBeGreaterThan(given[0]!.lateMs);
  given.length = 0;
  await expect(giveOrder(give, null, () => false)).rejects.toThrow(EngineAway);
  expect(given).toEqual([null]);
  const unsure = () => Promise.resolve({ t: 'ordered', ask: 1, how: 'unsure' } as const);
  await expect(giveOrder(unsure, { id: 'c', lateMs: 5 }, () => true)).rejects.toThrow(
    'Look whether it happened',
  );
  const late = () => Promise.resolve({ t: 'ordered', ask: 1, how: 'late' } as const);
  await expect(giveOrder(late, { id: 'b', lateMs: 4000 }, () => true)).rejects.toThrow(
    'Not called: 4 s late. Press again.',
  );
});
