import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareCues, cueBetween, isCueNumber } from './number.js';

test('cue numbers stand in the order of their parts', () => {
  const cues = ['10', '4.10', '4', '12.1.3', '4.5', '4.9', '0.5', '12.1'];
  expect(cues.sort(compareCues)).toEqual(['0.5', '4', '4.5', '4.9', '4.10', '10', '12.1', '12.1.3']);
});

test.each([
  ['', '', '1'],
  ['4', '', '5'],
  ['4', '6', '5'],
  ['4', '5', '4.5'],
  ['4.5', '5', '4.6'],
  ['4.5', '4.6', '4.5.5'],
  ['12.1.3', '', '13'],
  ['', '1', '0.5'],
  ['', '2', '1'],
  ['', '0.5', '0.0'],
])('between %s and %s comes %s', (before, after, between) => expect(cueBetween(before, after)).toBe(between));

test('there is always one between', () => {
  const cue = fc.array(fc.nat(20), { minLength: 1, maxLength: 3 }).map((parts) => parts.join('.'));
  fc.assert(
    fc.property(cue, cue, (a, b) => {
      fc.pre(compareCues(a, b) !== 0);
      const [before, after] = [a, b].sort(compareCues) as [string, string];
      const made = cueBetween(before, after);
      expect(isCueNumber(made)).toBe(true);
      // Between `4` and `4.0` there is none: a part of 0 is the very next.
      if (after.startsWith(`${before}.0`)) return;
      expect([before, made, after].sort(compareCues)).toEqual([before, made, after]);
      expect(compareCues(made, after)).not.toBe(0);
    }),
  );
});
