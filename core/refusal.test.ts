import { expect, test } from '@jest/globals';
import { OscError } from './osc/packet.js';
import { Refusal } from './refusal.js';

test('a refusal has its words and no trace, and the next error has one', () => {
  const refusal = new OscError('a string without its end');
  expect([refusal instanceof Refusal, refusal instanceof Error, refusal.message]).toEqual([
    true,
    true,
    'a string without its end',
  ]);
  expect(refusal.stack ?? '').not.toContain('refusal.test');
  expect(new Error('another').stack).toContain('refusal.test');
});
