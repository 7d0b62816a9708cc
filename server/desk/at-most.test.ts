/** What is done at once, and not again for each wish. No source: our own rule. */
import { expect, test } from '@jest/globals';
import { until } from '../../scripts/test-stage.js';
import { atMost } from './at-most.js';

test('is done at once, and once more for a thousand wishes that follow', async () => {
  let done = 0;
  const wish = atMost(20, () => done++);
  for (let wishes = 0; wishes < 1000; wishes++) wish();
  expect(done).toBe(1);
  await until(() => done === 2, 'it is done again');
  await new Promise((later) => setTimeout(later, 60));
  expect(done).toBe(2);
  wish();
  expect(done).toBe(3);
});
