/** Who may what, how guesses are slowed, and what a made passphrase is like. Without a source: the rules are ours. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createGuesses, guesserOf, type Guesses } from './guesses.js';
import { httpNeed } from './needs.js';
import { asCompared, passphraseOf } from './passphrase.js';
import { may, refusalOf, ROLES } from './roles.js';

const asker = (role: (typeof ROLES)[number], standIn = false) => ({ role, standIn });

test('each role may what those before it may, and a stranger nothing', () => {
  const may3 = (need: Parameters<typeof may>[1]): boolean[] =>
    [null, ...ROLES.map((role) => asker(role))].map((who) => may(who, need));
  expect(may3('nobody')).toEqual([true, true, true, true]);
  expect(may3('onlooker')).toEqual([false, true, true, true]);
  expect(may3('caller')).toEqual([false, false, true, true]);
  expect(may3('operator')).toEqual([false, false, false, true]);
  expect(may3('standIn')).toEqual([false, false, false, false]);
  expect(may(asker('operator', true), 'standIn')).toBe(true);
  expect(refusalOf(asker('onlooker'), 'caller')).toMatch(/^An onlooker can’t do that: it takes a caller/);
});

test('what a route needs may depend on what it is asked; what is not in the table has no need', () => {
  expect(httpNeed('POST', '/api/desk/order', { do: 'go' })).toBe('caller');
  expect(httpNeed('POST', '/api/desk/order', { do: 'trySend' })).toBe('operator');
  expect(httpNeed('POST', '/api/desk/order', { do: 'constructor' })).toBe('operator');
  expect(httpNeed('POST', '/api/desk/order', null)).toBe('operator');
  expect(httpNeed('PATCH', '/api/banks/:id', { on: true })).toBe('caller');
  expect(httpNeed('PATCH', '/api/banks/:id', { on: true, name: 'x' })).toBe('operator');
  expect(httpNeed('PATCH', '/api/banks/:id', {})).toBe('operator');
  expect(httpNeed('GET', '/api/secrets', null)).toBeNull();
  expect(httpNeed('GET', 'constructor', null)).toBeNull();
});

describe('guesses', () => {
  function guessWrongly(guesses: Guesses, address: string, now = 0): void {
    guesses.begin(address, now);
    guesses.answer(address, false, now);
  }

  /** Guesses wrongly as fast as allowed. @returns how many fit into a time */
  function count(addresses: readonly string[], ms: number): number {
    const guesses = createGuesses();
    let made = 0;
    for (let now = 0; now < ms; now += 100) {
      for (const address of addresses) {
        if (guesses.waitMs(address, now) > 0) continue;
        guessWrongly(guesses, address, now);
        made++;
      }
    }
    return made;
  }

  test('three slips are free; then an address waits 1, 2, 4 … 60 s', () => {
    const guesses = createGuesses();
    const waits = Array.from({ length: 11 }, () => {
      guessWrongly(guesses, '10.0.0.7');
      return guesses.waitMs('10.0.0.7', 0) / 1000;
    });
    expect(waits).toEqual([0, 0, 1, 2, 4, 8, 16, 32, 60, 60, 60]);
    expect(guesses.waitMs('10.0.0.8', 0)).toBe(0);
    expect(guesses.waitMs('10.0.0.7', 15 * 60_000)).toBe(0);
  });

  test('in an hour one address has fewer than 70 guesses, and a hundred have not more than 30 a minute', () => {
    expect(count(['10.0.0.7'], 3_600_000)).toBeLessThan(70);
    const many = Array.from({ length: 100 }, (_, at) => `10.1.${at >> 8}.${at & 255}`);
    expect(count(many, 600_000)).toBeLessThanOrEqual(310);
  });

  test('a right one between does not make the wrong ones free', () => {
    const guesses = createGuesses();
    for (let n = 0; n < 4; n++) guessWrongly(guesses, '10.0.0.7');
    const before = guesses.waitMs('10.0.0.7', 0);
    guesses.begin('10.0.0.7', 0);
    guesses.answer('10.0.0.7', true, 0);
    expect(guesses.waitMs('10.0.0.7', 0)).toBe(before);
  });

  test('the wait counts from the answer, however long that took', () => {
    const guesses = createGuesses();
    for (let n = 0; n < 3; n++) guessWrongly(guesses, '10.0.0.7');
    guesses.begin('10.0.0.7', 1000);
    // Nobody guesses again before the answer, however slow this machine is.
    expect(guesses.waitMs('10.0.0.7', 9000)).toBeGreaterThan(0);
    guesses.answer('10.0.0.7', false, 10_000);
    expect(guesses.waitMs('10.0.0.7', 10_000)).toBe(2000);
    expect(guesses.waitMs('10.0.0.7', 12_000)).toBe(0);
  });

  test('many at once are counted as they begin', () => {
    const guesses = createGuesses();
    const begun = Array.from({ length: 50 }, () => {
      if (guesses.waitMs('10.0.0.7', 0) > 0) return false;
      guesses.begin('10.0.0.7', 0);
      return true;
    });
    expect(begun.filter(Boolean)).toHaveLength(3);
  });

  test('a network of IPv6 is one guesser (RFC 4291: the last 64 bits are the interface)', () => {
    expect(guesserOf('2001:db8:1:2:aaaa::1')).toBe(guesserOf('2001:db8:1:2:bbbb:0:0:9'));
    expect(guesserOf('2001:db8:1:3::1')).not.toBe(guesserOf('2001:db8:1:2::1'));
    expect(guesserOf('2001:db8::1')).toBe('2001:db8:0:0');
  });

  test('at most 1,000 addresses are remembered, and 20 told', () => {
    const guesses = createGuesses();
    for (let at = 0; at < 3000; at++) guesses.begin(`10.${at >> 8}.${at & 255}.1`, at * 10_000);
    expect(guesses.seen(30_000_000).length).toBeLessThanOrEqual(20);
    expect(guesses.waitMs('10.0.0.1', 0)).toBe(0);
  });
});

test('a made passphrase has no signs that look alike, and 5 bits of each byte', () => {
  fc.assert(
    fc.property(fc.uint8Array({ minLength: 12, maxLength: 12 }), (random) => {
      const made = passphraseOf(random);
      expect(made).toMatch(/^(?:[0-9a-hjkmnp-tv-z]{4}-){2}[0-9a-hjkmnp-tv-z]{4}$/);
      expect(passphraseOf(random.map((byte) => byte & 31))).toBe(made);
    }),
  );
  expect(asCompared('  the  tide\tturns ')).toBe('the tide turns');
});
