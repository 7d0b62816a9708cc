/** Presses that come twice, late, or again after they failed. Without a source: the rule is ours. */
import { expect, test } from '@jest/globals';
import { createPresses, LATE_MS, readPress, TooLate } from './presses.js';

test('a header is an id and a time, or nothing', () => {
  expect(readPress('a1 1000.5')).toEqual({ id: 'a1', at: 1000.5 });
  for (const header of [undefined, '', 'a1', ' 5', 'a1 soon', `${'x'.repeat(65)} 5`])
    expect(readPress(header)).toBeNull();
});

test('a press acts once, however often it comes, and everybody gets its answer', async () => {
  const presses = createPresses<number>(() => 1000);
  let acted = 0;
  const go = (): Promise<number> => presses.once({ id: 'a', at: 1000 }, 'go', () => Promise.resolve(++acted));
  expect(await Promise.all([go(), go()])).toEqual([1, 1]);
  expect(await go()).toBe(1);
  expect(await presses.once({ id: 'b', at: 1000 }, 'go', () => Promise.resolve(++acted))).toBe(2);
});

test('one that failed may come again', async () => {
  const presses = createPresses<number>(() => 1000);
  const press = { id: 'a', at: 1000 };
  await expect(presses.once(press, 'go', () => Promise.reject(new Error('away')))).rejects.toThrow('away');
  expect(await presses.once(press, 'go', () => Promise.resolve(7))).toBe(7);
});

test('a Go that was held up is refused in words; what stops something is not; one that was done is answered however late', async () => {
  let now = 1000;
  const presses = createPresses<number>(() => now);
  let acted = 0;
  const act = (): Promise<number> => Promise.resolve(++acted);
  await presses.once({ id: 'in time', at: 1000 }, 'go', act);
  now += 3000;
  await expect(presses.once({ id: 'late', at: 1000 }, 'go', act)).rejects.toThrow(TooLate);
  expect(new TooLate(3000).message).toBe('Not called: 3 s late. Press again.');
  expect(await presses.once({ id: 'in time', at: 1000 }, 'go', act)).toBe(1);
  expect(await presses.once({ id: 'stop', at: 1000 }, 'stopAll', act)).toBe(2);
  expect(await presses.once({ id: 'just', at: now - LATE_MS }, 'go', act)).toBe(3);
});

test('what is remembered is bounded', async () => {
  const presses = createPresses<number>(() => 1000);
  let acted = 0;
  const press = (n: number): Promise<number> =>
    presses.once({ id: `p${n}`, at: 1000 }, 'go', () => Promise.resolve(++acted));
  for (let n = 0; n <= 500; n++) await press(n);
  await press(500);
  expect(acted).toBe(501);
  await press(0);
  expect(acted).toBe(502);
});
