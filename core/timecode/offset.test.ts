import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FRAME_RATES, type FrameRate } from './frame-rate.js';
import { readOffset, writeOffset } from './offset.js';

const ms = (text: string, rate: FrameRate = '25'): number | string => {
  const read = readOffset(text, rate);
  return read.ok ? read.value : read.reason;
};

describe('an offset', () => {
  test('is a timecode, frames, or a time, with its sign', () => {
    expect(ms('+00:00:02:00')).toBe(2000);
    expect(ms('-00:00:00:01')).toBe(-40);
    expect(ms('−5')).toBe(-200);
    expect(ms('3 frames')).toBe(120);
    expect(ms('-40 ms')).toBe(-40);
    expect(ms('2 s')).toBe(2000);
    expect(ms('0')).toBe(0);
  });

  test('that is none is refused with an example', () => {
    for (const text of ['', 'soon', '--1', '1:2', '+'])
      expect(ms(text)).toBe('Write an offset like +00:00:02:00, -5 frames, 40 ms or 2 s.');
    expect(ms('00:00:00:29')).toBe('There is no frame 29 at 25 fps: frames are 0 to 24.');
  });

  test('is read as it is written, to a thousandth of a ms', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -80_000_000, max: 80_000_000 }),
        fc.constantFrom(...FRAME_RATES),
        (value, rate) => {
          expect(Math.abs(Number(ms(writeOffset(value, rate), rate)) - value)).toBeLessThan(0.1);
        },
      ),
    );
  });
});
