import { describe, expect, test } from '@jest/globals';
import { openParts } from './pattern.js';
import { readSentAddress } from './sent-address.js';

const from = { number: 40, channel: 9, parts: ['deck', '7'] };
const filled = (text: string): string => {
  const read = readSentAddress(text);
  if (!read.ok) throw new Error(read.reason);
  return read.value.fill(from);
};

describe('an address with places', () => {
  test.each([
    ['/clip/{number}/go', '/clip/40/go'],
    ['/clip/{number-35}', '/clip/5'],
    ['/clip/{number+2}', '/clip/42'],
    ['/ch/{channel}', '/ch/10'],
    ['/{1}/{2}/{3}/x', '/deck/7//x'],
    ['/plain', '/plain'],
  ])('%s', (text, wanted) => expect(filled(text)).toBe(wanted));

  test.each(['/clip/{n}', '/clip/{number', '/clip/}', '/clip/{0}', '/{number*2}'])(
    '%s is no address',
    (text) =>
      expect(readSentAddress(text)).toMatchObject({ ok: false, reason: expect.stringContaining('{number}') }),
  );
});

// OSC 1.0, "OSC Message Dispatching and Pattern Matching": no wildcard matches a slash.
test.each([
  ['/deck/*/go', '/deck/b/go', ['b']],
  ['/deck/clip*', '/deck/clip7', ['7']],
  ['/*/fader?', '/left/fader3', ['left', '3']],
  ['/x[0-9]y/{one,two}', '/x4y/two', ['4', 'two']],
  ['/plain', '/plain', []],
])('of %s, %s leaves open %j', (pattern, address, parts) => {
  expect(openParts(pattern)(address)).toEqual(parts);
});
