/** Linear timecode as sound: SMPTE ST 12-1 from memory, and `linear-timecode`, a package that is not ours, both ways. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Decoder, Encoder, Frame } from 'linear-timecode';
import { dice } from '../../dice.js';
import { FRAME_RATES, RATES, type FrameRate } from '../frame-rate.js';
import { frameOf, framesPerDay, partsOf, writeTimecode } from '../timecode.js';
import { createLtcDecoder, type LtcFrame } from './decoder.js';
import { amplitudeOf, createLtcEncoder, RISE_S, samplesOf } from './encoder.js';
import { polarityBit, readWord, SYNC, WORD_BITS, writeWord } from './word.js';

const at = (hours: number, minutes: number, seconds: number, frames: number) => ({
  hours,
  minutes,
  seconds,
  frames,
});
const wordOf = (frame: number, rate: FrameRate, user: number[] = []): Uint8Array => {
  const bits = new Uint8Array(WORD_BITS);
  writeWord(frame, rate, bits, user);
  return bits;
};

interface Sound {
  sampleRate?: number;
  rate?: FrameRate;
  from?: number;
  frames?: number;
  levelDb?: number;
  user?: number[];
}

function soundOf({
  sampleRate = 48_000,
  rate = '25',
  from = 90_000,
  frames = 25,
  levelDb = -6,
  user = [],
}: Sound): Float32Array {
  const into = new Float32Array(samplesOf(frames, rate, sampleRate) + Math.ceil(sampleRate / 1000));
  createLtcEncoder({ sampleRate, rate, from, levelDb, user }).fill(into);
  return into;
}

function read(samples: Float32Array, sampleRate = 48_000, block = 512): LtcFrame[] {
  const frames: LtcFrame[] = [];
  const decoder = createLtcDecoder(sampleRate, (frame) => frames.push(frame));
  for (let from = 0; from < samples.length; from += block) decoder.feed(samples.subarray(from, from + block));
  return frames;
}

/** Reads with another speed: the value of the sound between its samples, in straight lines. */
function played(samples: Float32Array, speedAt: (part: number) => number): Float32Array {
  const out: number[] = [];
  const backward = speedAt(0) < 0;
  for (let place = backward ? samples.length - 2 : 0; place >= 0 && place < samples.length - 1;) {
    const whole = Math.floor(place);
    out.push(samples[whole]! + (samples[whole + 1]! - samples[whole]!) * (place - whole));
    place += speedAt(place / samples.length);
  }
  return Float32Array.from(out);
}

/** The numbers that follow from each other without a gap. */
function runOf(frames: LtcFrame[], rate: FrameRate): number[] {
  return frames.map(({ parts }) => frameOf(parts, rate));
}

describe('the 80 bits', () => {
  test('have their numbers, the flag and the sync word in their places', () => {
    const bits = wordOf(frameOf(at(12, 34, 56, 28), '29.97df'), '29.97df', [1, 2, 3, 4, 5, 6, 7, 8]);
    const value = (from: number, width: number): number =>
      [...bits.subarray(from, from + width)].reduce((sum, bit, place) => sum + (bit << place), 0);
    expect([value(8, 2), value(0, 4)]).toEqual([2, 8]);
    expect([value(24, 3), value(16, 4)]).toEqual([5, 6]);
    expect([value(40, 3), value(32, 4)]).toEqual([3, 4]);
    expect([value(56, 2), value(48, 4)]).toEqual([1, 2]);
    expect(bits[10]).toBe(1);
    expect([4, 12, 20, 28, 36, 44, 52, 60].map((from) => value(from, 4))).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect([...bits.subarray(64)].join('')).toBe('0011111111111101');
  });

  test.each(FRAME_RATES)('at %s have an even number of zeros, by the polarity bit', (rate) => {
    expect(polarityBit(rate)).toBe(rate === '25' ? 59 : 27);
    fc.assert(
      fc.property(
        fc.nat(framesPerDay(rate) - 1),
        fc.array(fc.nat(15), { minLength: 8, maxLength: 8 }),
        (frame, user) => {
          const bits = wordOf(frame, rate, user);
          expect(bits.filter((bit) => bit === 0).length % 2).toBe(0);
          const word = readWord(bits)!;
          expect([frameOf(word.parts, rate), word.drop, word.user]).toEqual([frame, RATES[rate].drop, user]);
        },
      ),
    );
  });

  test('that are none are refused', () => {
    const bits = wordOf(90_000, '25');
    expect(readWord(bits.map((bit, place) => (place === 70 ? 1 - bit : bit)))).toBeNull();
    bits.set([1, 1, 1, 1], 0);
    expect(readWord(bits)).toBeNull();
    expect(SYNC).toHaveLength(16);
  });
});

describe('the sound', () => {
  test('has a transition at each bit, and another in the middle of a 1, and begins each frame with a rise', () => {
    const samples = soundOf({ sampleRate: 96_000, frames: 2 });
    const cell = 96_000 / 25 / 160;
    const bits = [...wordOf(90_000, '25'), ...wordOf(90_001, '25')];
    const side = (cells: number): number => Math.sign(samples[Math.round(cells * cell)]!);
    for (let place = 0; place < 159; place++) {
      const first = side(place * 2 + 0.5);
      expect(side(place * 2 + 1.5)).toBe(bits[place] === 1 ? -first : first);
      if (place > 0) expect(side(place * 2 - 0.5)).toBe(-first);
    }
    expect([side(0.5), side(160.5)]).toEqual([1, 1]);
  });

  test('rises from 10 to 90 % in 40 µs, and is as loud as it should be', () => {
    const sampleRate = 192_000;
    const samples = soundOf({ sampleRate, frames: 2, levelDb: -12 });
    const top = amplitudeOf(-12);
    expect(Math.max(...samples)).toBeCloseTo(top, 5);
    expect(Math.min(...samples)).toBeCloseTo(-top, 5);
    // Within 40 ± 10 µs.
    const start = samples.findIndex(
      (sample, place) => place > 1000 && sample > -0.8 * top && samples[place - 1]! <= -0.8 * top,
    );
    const end = samples.findIndex((sample, place) => place > start && sample > 0.8 * top);
    const rise = (end - start) / sampleRate;
    expect(rise).toBeGreaterThan(RISE_S - 10e-6);
    expect(rise).toBeLessThan(RISE_S + 10e-6);
  });

  test.each(FRAME_RATES)('at %s is read back: every frame, where it began, and its user bits', (rate) => {
    for (const sampleRate of [22_050, 44_100, 48_000, 96_000, 192_000]) {
      const from = frameOf(at(1, 0, 59, 20), rate);
      const user = [9, 8, 7, 6, 5, 4, 3, 2];
      const frames = read(soundOf({ sampleRate, rate, from, frames: 30, user }), sampleRate);
      expect(frames.length).toBeGreaterThanOrEqual(28);
      const first = frameOf(frames[0]!.parts, rate);
      frames.forEach((frame, place) => {
        expect(frameOf(frame.parts, rate)).toBe(first + place);
        expect([frame.drop, frame.backward, frame.user]).toEqual([RATES[rate].drop, false, user]);
        const began = ((first + place - from) * sampleRate) / RATES[rate].fps;
        expect(Math.abs(frame.startSample - began)).toBeLessThan(1);
      });
    }
  });

  test.each([
    ['at -40 dB', { levelDb: -40 }, (samples: Float32Array) => samples],
    ['turned over', {}, (samples: Float32Array) => samples.map((sample) => -sample)],
    [
      'with a constant part',
      { levelDb: -20 },
      (samples: Float32Array) => samples.map((sample) => sample + 0.4),
    ],
    [
      'with noise 12 dB below it',
      { levelDb: -12 },
      (samples: Float32Array) => noisy(samples, amplitudeOf(-24), 5),
    ],
  ])('%s is read', (_, change, made) => {
    for (const rate of ['25', '30'] as const) {
      const frames = read(made(soundOf({ rate, frames: 100, ...change })));
      expect(frames.length).toBeGreaterThanOrEqual(97);
      const run = runOf(frames, rate);
      expect(run).toEqual(run.map((_frame, place) => run[0]! + place));
    }
  });

  test.each([0.25, 0.5, 0.9, 1.1, 2, 4, -0.25, -1, -2, -4])('at a speed of %d is read', (speed) => {
    for (const rate of ['24', '30'] as const) {
      const samples = soundOf({ rate, frames: 40 });
      const frames = read(played(samples, () => speed));
      expect(frames.length).toBeGreaterThanOrEqual(36);
      const run = runOf(frames, rate);
      expect(run).toEqual(run.map((_, place) => run[0]! + place * Math.sign(speed)));
      expect(frames.every(({ backward }) => backward === speed < 0)).toBe(true);
    }
  });

  test('that ramps from a quarter to four times the speed and back is read', () => {
    const samples = soundOf({ frames: 400 });
    // A frame takes as long as it takes: the speed changes by a few percent in each.
    const frames = read(played(samples, (part) => 2 ** (2 - 4 * Math.abs(2 * part - 1))));
    expect(frames.length).toBeGreaterThanOrEqual(396);
  });

  test('with a block of samples missing goes on behind it', () => {
    const samples = soundOf({ frames: 60 });
    const hole = 30 * 1920 + 700;
    const frames: LtcFrame[] = [];
    const decoder = createLtcDecoder(48_000, (frame) => frames.push(frame));
    decoder.feed(samples.subarray(0, hole));
    decoder.skip(1024);
    decoder.feed(samples.subarray(hole + 1024));
    expect(frames.length).toBeGreaterThanOrEqual(56);
    for (const { parts, startSample } of frames)
      expect(Math.abs(startSample - (frameOf(parts, '25') - 90_000) * 1920)).toBeLessThan(1);
  });

  // It knows no 29.97 fps, no user bits and no drop-frame counting, reads full speed only, and at 30 fps not at 48 kHz,
  // where it counts a half bit of ten samples as too short.
  test.each(['24', '25', '30'] as const)(
    'at %s is read by another package, and we read what that makes',
    (rate) => {
      const from = frameOf(at(1, 2, 3, 4), rate);
      const decoder = new Decoder(44_100);
      const theirs: string[] = [];
      decoder.on('frame', (frame) => theirs.push(frame.toString()));
      const samples = soundOf({ sampleRate: 44_100, rate, from, frames: 30 });
      for (let start = 0; start < samples.length; start += 2000)
        decoder.decode(samples.subarray(start, start + 2000));
      expect(theirs.length).toBeGreaterThanOrEqual(28);
      const first = theirs.indexOf(writeTimecode(from + 3, rate));
      expect(theirs.slice(first, first + 25)).toEqual(
        Array.from({ length: 25 }, (_, place) => writeTimecode(from + 3 + place, rate)),
      );

      const encoder = new Encoder(48_000);
      const sound = Array.from({ length: 30 }, (_, place) => {
        const frame = new Frame(Number(rate));
        Object.assign(frame, partsOf(from + place, rate));
        // The ten bytes are the same, bit for bit.
        const bits = [...frame.encode()].flatMap((byte) =>
          Array.from({ length: 8 }, (_bit, bit) => (byte >> bit) & 1),
        );
        expect(bits).toEqual([...wordOf(from + place, rate)]);
        return [...encoder.encode(frame)].map((sample) => sample / 200);
      }).flat();
      const run = runOf(read(Float32Array.from(sound)), rate);
      expect(run.length).toBeGreaterThanOrEqual(27);
      expect(run).toEqual(run.map((_, place) => run[0]! + place));
    },
  );

  test('that is no timecode is read as nothing, and never throws', () => {
    const roll = dice(11);
    expect(read(Float32Array.from({ length: 96_000 }, () => roll() * 2 - 1))).toEqual([]);
    expect(read(new Float32Array(48_000))).toEqual([]);
    expect(read(Float32Array.from({ length: 48_000 }, (_, n) => Math.sin(n / 7)))).toEqual([]);
    for (const bad of [NaN, Infinity, -Infinity]) {
      const samples = soundOf({ frames: 10 });
      samples[5000] = bad;
      // It is read again before the end.
      expect(frameOf(read(samples).at(-1)!.parts, '25')).toBeGreaterThanOrEqual(90_008);
    }
  });
});

/** Adds noise whose power is that of a square wave of this height. */
function noisy(samples: Float32Array, rms: number, seed: number): Float32Array {
  const roll = dice(seed);
  // The sum of twelve dice is nearly normal, with a deviation of 1.
  return samples.map((sample) => {
    let sum = -6;
    for (let n = 0; n < 12; n++) sum += roll();
    return sample + sum * rms;
  });
}
