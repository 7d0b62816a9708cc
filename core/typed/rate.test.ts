/** Rates and percents as people type them. */
import { expect, test } from '@jest/globals';
import { readPercent, readPercents, readRate, writePercents, writeRate } from './rate.js';

const before = { everyMs: 4000, everyBeats: null };

test.each([
  ['4 s', { everyMs: 4000, everyBeats: null }, '4 s'],
  ['0.5 Hz', { everyMs: 2000, everyBeats: null }, '2 s'],
  ['2 beats', { everyMs: 4000, everyBeats: 2 }, '2 beats'],
  ['1 bar', { everyMs: 4000, everyBeats: 3 }, '3 beats'],
  ['1/2 beat', { everyMs: 4000, everyBeats: 0.5 }, '0.5 beats'],
  ['250 ms', { everyMs: 250, everyBeats: null }, '250 ms'],
])('%s', (text, value, written) => {
  expect(readRate(text, before, 3)).toEqual({ ok: true, value });
  expect(writeRate(value)).toBe(written);
});

test.each(['0', '0 Hz', '0 beats', 'next beat', '1 ms', '200 Hz', 'often', '2 h'])(
  '%s is refused',
  (text) => {
    expect(readRate(text, before).ok).toBe(false);
  },
);

test('percents', () => {
  expect(readPercent('-50', -1, 1)).toEqual({ ok: true, value: -0.5 });
  expect(readPercent('120 %', 0, 1)).toEqual({ ok: false, reason: 'Write 0 to 100 %.' });
  expect(readPercents('0, 50 100 %', 64)).toEqual({ ok: true, value: [0, 0.5, 1] });
  expect(readPercents('', 64).ok).toBe(false);
  expect(writePercents([0, 0.125, 1])).toBe('0, 12.5, 100 %');
});
