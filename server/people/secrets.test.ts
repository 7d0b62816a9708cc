import { expect, test } from '@jest/globals';
import { derive, hashWith, isHash, keepSecret, type KeptSecret } from './secrets.js';

test('scrypt gives the second test vector of RFC 7914, section 12', async () => {
  const key = await derive('password', Buffer.from('NaCl'), 64, { N: 1024, r: 8, p: 16 });
  expect(key.toString('hex')).toBe(
    'fdbabe1c9d3472007856e7190d01e9fe7c6ad7cbc8237830e77376634b373162' +
      '2eaf30d92e22a3886ff109279d9830dac727afb94a83ee6d8360cbdfa2cc0640',
  );
});

const isSecret = async (given: string, secret: KeptSecret): Promise<boolean> =>
  isHash(await hashWith(given, secret), secret);

test('two hashes of one passphrase differ, and both know it', async () => {
  const [one, other] = await Promise.all([keepSecret('the tide turns'), keepSecret('the tide turns')]);
  expect(one.key).not.toBe(other.key);
  expect(await isSecret('the tide turns', one)).toBe(true);
  expect(await isSecret('the tide turns', other)).toBe(true);
  expect(await isSecret('the tide turned', one)).toBe(false);
});
