/**
 * Drop-frame counting as in SMPTE ST 12-1 (from memory): two numbers a minute are left out but in the tenth; and every frame of a day against
 * `smpte-timecode`, a package that is not ours.
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Timecode from 'smpte-timecode';
import { FRAME_RATES, RATES, type FrameRate } from './frame-rate.js';
import {
  exists,
  frameAt,
  frameOf,
  framesPerDay,
  msOf,
  partsOf,
  readTimecode,
  writePosition,
  writeTimecode,
} from './timecode.js';

const valueOf = (text: string, rate: FrameRate): number => {
  const read = readTimecode(text, rate);
  if (!read.ok) throw new Error(read.reason);
  return read.value;
};

describe('drop-frame', () => {
  test('01:00:00;00 is frame 107,892, and a day has 2,589,408', () => {
    expect(valueOf('01:00:00;00', '29.97df')).toBe(107_892);
    expect(framesPerDay('29.97df')).toBe(2_589_408);
  });

  test('00:01:00;02 follows 00:00:59;29, and in the tenth minute nothing is left out', () => {
    expect(writeTimecode(valueOf('00:00:59;29', '29.97df') + 1, '29.97df')).toBe('00:01:00;02');
    expect(writeTimecode(valueOf('00:09:59;29', '29.97df') + 1, '29.97df')).toBe('00:10:00;00');
  });

  test('an hour of numbers is an hour of time to within 4 ms; without drop it is 3.6 s longer', () => {
    expect(msOf(valueOf('01:00:00;00', '29.97df'), '29.97df')).toBeCloseTo(3_599_996.4, 1);
    expect(msOf(valueOf('01:00:00:00', '29.97'), '29.97')).toBeCloseTo(3_603_600, 3);
  });
});

/** The rate as the other package is told it. The rates that are pulled down without drop count like 24 and 30; it ends their day too early. */
const THEIRS = { '24': 24, '25': 25, '29.97df': 29.97, '30': 30 } as const;

test.each(['24', '25', '29.97df', '30'] as const)(
  'every frame of a day at %s is written as the other package writes it, and back',
  (rate) => {
    const theirs = Timecode(0, THEIRS[rate], RATES[rate].drop);
    const wrong: string[] = [];
    for (let frame = 0; frame < framesPerDay(rate); frame++) {
      const parts = partsOf(frame, rate);
      const same =
        parts.hours === theirs.hours &&
        parts.minutes === theirs.minutes &&
        parts.seconds === theirs.seconds &&
        parts.frames === theirs.frames;
      if (!same || frameOf(parts, rate) !== frame || !exists(parts, rate))
        wrong.push(`${frame}: ${writeTimecode(frame, rate)}, theirs ${theirs.toString()}`);
      theirs.add(1);
    }
    expect(wrong.slice(0, 5)).toEqual([]);
  },
);

test.each([
  ['23.976', '24'],
  ['29.97', '30'],
] as const)('%s counts like %s', (pulled, plain) => {
  expect(framesPerDay(pulled)).toBe(framesPerDay(plain));
  for (let frame = 0; frame < framesPerDay(plain); frame += 997)
    expect(partsOf(frame, pulled)).toEqual(partsOf(frame, plain));
});

test('a position goes to any rate and back within one frame, for 24 hours', () => {
  const rates = fc.constantFrom(...FRAME_RATES);
  fc.assert(
    fc.property(fc.nat(2_000_000), rates, rates, (frame, from, to) => {
      const there = frameAt(msOf(frame, from), to);
      const back = frameAt(msOf(there, to), from);
      const longest = Math.max(1, RATES[from].fps / RATES[to].fps);
      expect(frame - back).toBeGreaterThanOrEqual(0);
      expect(frame - back).toBeLessThanOrEqual(Math.ceil(longest));
    }),
  );
});

test('the time of a frame is in that frame, at every rate', () => {
  fc.assert(
    fc.property(fc.nat(2_073_600), fc.constantFrom(...FRAME_RATES), (frame, rate) => {
      expect(frameAt(msOf(frame, rate), rate)).toBe(frame);
    }),
  );
});

test('what is typed is read, and what does not exist is said with its reason', () => {
  expect(writeTimecode(valueOf('1:2:3:4', '25'), '25')).toBe('01:02:03:04');
  expect(writePosition(msOf(valueOf('01:02:03', '25'), '25'), '25')).toBe('01:02:03:00');
  const reason = (text: string, rate: FrameRate): string => {
    const read = readTimecode(text, rate);
    return read.ok ? 'read' : read.reason;
  };
  expect(reason('25:00:00:00', '25')).toBe('Hours are 0 to 23, not 25.');
  expect(reason('01:00:00:29', '25')).toBe('There is no frame 29 at 25 fps: frames are 0 to 24.');
  expect(reason('00:01:00;00', '29.97df')).toBe(
    'Drop-frame leaves out 00:01:00;00: the next frame is 00:01:00;02.',
  );
  expect(reason('00:10:00;00', '29.97df')).toBe('read');
  for (const text of ['', 'soon', '1:2', '01:60:00:00', '01:00:60:00', '-1:00:00:00'])
    expect(reason(text, '25')).not.toBe('read');
});
