/** What is listed of a recording that the test has made. */
import { describe, expect, test } from '@jest/globals';
import { FRAME_RATES, RATES, type FrameRate } from '../frame-rate.js';
import { framesAt, msOf, readTimecode } from '../timecode.js';
import { createLtcDecoder } from './decoder.js';
import { createLtcEncoder, samplesOf } from './encoder.js';
import { readLtcRange } from './range.js';
import { createLtcReporter, type LtcReport } from './report.js';

const SAMPLE_RATE = 48_000;
const frame = (text: string, rate: FrameRate): number => {
  const read = readTimecode(text, rate);
  if (!read.ok) throw new Error(read.reason);
  return read.value;
};

function sound(text: string, frames: number, rate: FrameRate): Float32Array {
  const samples = new Float32Array(samplesOf(frames, rate, SAMPLE_RATE) + 60);
  createLtcEncoder({ sampleRate: SAMPLE_RATE, rate, from: frame(text, rate), levelDb: -18 }).fill(samples);
  return samples;
}

function reported(...parts: Float32Array[]): LtcReport {
  const reporter = createLtcReporter(SAMPLE_RATE);
  const decoder = createLtcDecoder(SAMPLE_RATE, (read) => reporter.frame(read, decoder.level()));
  for (const part of parts) decoder.feed(part);
  return reporter.report();
}

describe('a recording of linear timecode', () => {
  test.each(FRAME_RATES)('at %s says its rate, its range and its level', (rate) => {
    const text = `01:00:59${RATES[rate].drop ? ';' : ':'}10`;
    const report = reported(sound(text, 90, rate));
    expect(report.rate).toBe(rate);
    expect(report.drop).toBe(RATES[rate].drop);
    expect(report.speed).toBeCloseTo(1, 4);
    expect(report.levelDb).toBeCloseTo(-18, 0);
    expect(report.ranges).toHaveLength(1);
    const [range] = report.ranges;
    // From the first frame on, in which the speed is found.
    expect(range!.frames).toBe(90);
    expect(range!.from).toBe(text);
    expect(frame(range!.to, rate)).toBe(frame(text, rate) + 89);
    expect(range!.startS).toBeLessThan(0.001);
  });

  test.each(FRAME_RATES)('at %s is read from its first frame on, also where that is all zeros', (rate) => {
    for (const text of ['00:00:00:00', '01:00:00:00', '03:00:00:00', '08:00:00:00', '10:00:00:08'])
      expect(reported(sound(text, 25, rate)).ranges).toMatchObject([
        { from: rate === '29.97df' ? text.replace(/:(..)$/, ';$1') : text, frames: 25 },
      ]);
  });

  test('runs on over midnight without a jump', () => {
    const report = reported(sound('23:59:58:00', 100, '25'));
    expect(report.ranges.map(({ to }) => to)).toEqual(['00:00:01:24']);
    expect(report.ranges[0]!.frames).toBe(100);
  });

  test('says where it is silent, and where it jumps', () => {
    const report = reported(
      sound('01:00:00:00', 50, '25'),
      new Float32Array(SAMPLE_RATE),
      sound('01:00:03:00', 50, '25'),
      sound('02:00:00:00', 50, '25'),
    );
    expect(report.ranges.map(({ to }) => to)).toEqual(['01:00:01:24', '01:00:04:24', '02:00:01:24']);
    const [, second, third] = report.ranges;
    expect(second!.after!.silenceS).toBeGreaterThan(0.95);
    expect(second!.after!.silenceS).toBeLessThan(1.15);
    expect(third!.after!.silenceS).toBeLessThan(0.1);
    expect(third!.after!.jump).toBeGreaterThan(framesAt(msOf(1, '25') * 25 * 3500, '25'));
  });

  test('that is backward says so', () => {
    const report = reported(sound('01:00:00:00', 60, '30').toReversed());
    expect(report.ranges).toHaveLength(1);
    // Backward, the first frame ends where the sound does, without a transition.
    expect(report.ranges[0]).toMatchObject({ backward: true, to: '01:00:00:01' });
  });

  test('that has none on it says so', () => {
    expect(reported(new Float32Array(SAMPLE_RATE))).toMatchObject({
      rate: null,
      frames: 0,
      ranges: [],
      levelDb: null,
    });
  });
});

describe('a range that is to be made', () => {
  const wrong = (from: string, to: string, rate: FrameRate = '25', samples = 48_000): string => {
    const read = readLtcRange(from, to, rate, samples);
    return read.ok ? 'good' : `${read.field}: ${read.reason}`;
  };
  test('is refused where it is wrong', () => {
    expect(wrong('01:00:00:00', '01:00:10:00')).toBe('good');
    expect(wrong('25:00:00:00', '01:00:00:00')).toBe('from: Hours are 0 to 23, not 25.');
    expect(wrong('01:00:00:00', '01:00:00:29')).toBe(
      'to: There is no frame 29 at 25 fps: frames are 0 to 24.',
    );
    expect(wrong('01:00:10:00', '01:00:00:00')).toBe(
      'to: It ends before it begins: write a timecode after 01:00:10:00.',
    );
    expect(wrong('00:00:00:00', '23:59:59:24', '25', 192_000)).toContain('no room for its size');
  });
});
