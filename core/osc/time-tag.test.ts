import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dateToTimetag } from 'osc-min';
import { IMMEDIATELY } from './packet.js';
import { holdMs, msToTimeTag, timeTagToMs } from './time-tag.js';

// RFC 868: 2,208,988,800 corresponds to 00:00 1 Jan 1970 GMT.
test('1970 is 2,208,988,800 seconds after 1900', () => {
  expect(timeTagToMs(2_208_988_800n << 32n)).toBe(0);
  expect(msToTimeTag(500)).toBe((2_208_988_800n << 32n) | 0x8000_0000n);
});

test('any time comes back to within a microsecond', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 2_000_000_000_000 }), (ms) => {
      expect(Math.abs(timeTagToMs(msToTimeTag(ms)) - ms)).toBeLessThan(0.001);
    }),
  );
});

// Independent check: the package osc-min makes the same time tags.
test('another OSC package writes the same times', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 2_000_000_000_000 }), (ms) => {
      const [seconds, fraction] = dateToTimetag(new Date(ms));
      expect(
        Math.abs(timeTagToMs((BigInt(seconds) << 32n) | BigInt(Math.floor(fraction))) - ms),
      ).toBeLessThan(1);
    }),
  );
});

test('what is due, late, or meant at once is not held', () => {
  const now = 1_800_000_000_000;
  expect(holdMs(IMMEDIATELY, now)).toBe(0);
  expect(holdMs(msToTimeTag(now - 5000), now)).toBe(0);
  expect(holdMs(msToTimeTag(now + 250), now)).toBeCloseTo(250, 2);
});
