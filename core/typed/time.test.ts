import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readTime, writeTime, type TimeUnit } from './time.js';

const ms = (text: string, bare: TimeUnit): number | string => {
  const read = readTime(text, bare, 3_600_000);
  return read.ok ? read.value : read.reason;
};

describe('a time as people type it', () => {
  // The unit of a bare number is common practice: fades of cues are in seconds, delays of effects in milliseconds.
  test.each([
    ['3', 's', 3000],
    ['3', 'ms', 3],
    ['0,5', 's', 500],
    ['.5', 's', 500],
    ['250 ms', 's', 250],
    ['2 s', 'ms', 2000],
    ['2 sec', 'ms', 2000],
    ['1:30', 's', 90_000],
    ['1:30', 'ms', 90_000],
    ['2 min', 's', 120_000],
    ['0', 's', 0],
  ] as const)('%s in a field of %s is %d ms', (text, bare, value) => expect(ms(text, bare)).toBe(value));

  test.each(['', 'soon', '3 h', '-1', '1:75', '3 s 4', '.', '4000'])(
    '“%s” is refused with what to write',
    (text) => {
      expect(ms(text, 's')).toBe(
        'Write a time like 3 s, 0.5 s or 1:30, at most 3600 s. A number alone is in seconds.',
      );
    },
  );

  test('what is written is read as the same in every field', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3_600_000 }), fc.constantFrom('s', 'ms'), (time, bare) => {
        expect(ms(writeTime(time), bare as TimeUnit)).toBe(time);
      }),
    );
  });
});
