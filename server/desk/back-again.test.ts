/** An engine is back once its lines are. No source: our own rule. */
import { expect, test } from '@jest/globals';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { createBackAgain } from './back-again.js';

const states = (of: Record<string, LineState['state']>): Record<string, LineState> =>
  Object.fromEntries(Object.entries(of).map(([id, state]) => [id, { state, trouble: '' }]));

test('lines that were open are waited for, and no others', () => {
  const back = createBackAgain(() => 0);
  expect(back.isBack(states({ water: 'waiting' }))).toBe(true);
  back.left(states({ water: 'open', bells: 'trouble', rig: 'open', gone: 'open' }));
  back.joined();
  const bells = 'trouble' as const;
  expect(back.isBack(states({ water: 'waiting', bells, rig: 'waiting' }))).toBe(false);
  expect(back.isBack(states({ water: 'open', bells, rig: 'waiting' }))).toBe(false);
  // It dies again before all are open.
  back.left(states({ water: 'open', bells, rig: 'waiting' }));
  back.joined();
  expect(back.isBack(states({ water: 'waiting', bells, rig: 'open' }))).toBe(false);
  expect(back.isBack(states({ water: 'open', bells, rig: 'open' }))).toBe(true);
});

test('one that does not come back is waited for half a second', () => {
  let now = 0;
  const back = createBackAgain(() => now);
  back.left(states({ water: 'open' }));
  now = 1000;
  back.joined();
  now = 1400;
  expect(back.isBack(states({ water: 'waiting' }))).toBe(false);
  now = 1501;
  expect(back.isBack(states({ water: 'waiting' }))).toBe(true);
  expect(back.isBack(states({ water: 'waiting' }))).toBe(true);
});
