/**
 * Makes linear timecode as sound: bi-phase mark, a transition at the beginning of each bit, and one more in the middle of a 1 (SMPTE ST 12-1, from
 * memory). Every transition is computed from the start, so that nothing drifts at rates that do not divide.
 */
import { RATES, type FrameRate } from '../frame-rate.js';
import { WORD_BITS, writeWord } from './word.js';

/** The time in which a transition rises from 10 to 90 %: 40 µs within 10 µs (SMPTE ST 12-1, from memory). */
export const RISE_S = 40e-6;
/** A raised cosine is between 10 and 90 % for this part of its length. */
export const RISE_PART = (Math.acos(-0.8) - Math.acos(0.8)) / Math.PI;

export interface LtcEncoder {
  /** Fills with what comes next. The samples are from -1 to 1 times the level. */
  fill(into: Float32Array): void;
  /** The number of samples that were made. */
  made(): number;
}

export interface LtcEncoding {
  /** Samples a second. */
  sampleRate: number;
  rate: FrameRate;
  /** The first frame. */
  from: number;
  /** dB below full scale, 0 or less. */
  levelDb: number;
  /** Eight groups of user bits, 0–15 each. */
  user?: readonly number[];
}

export const amplitudeOf = (levelDb: number): number => 10 ** (levelDb / 20);

export function createLtcEncoder({ sampleRate, rate, from, levelDb, user = [] }: LtcEncoding): LtcEncoder {
  const amplitude = amplitudeOf(levelDb);
  const cells = WORD_BITS * 2;
  /** Samples in half a bit, with their fraction. */
  const cell = sampleRate / (RATES[rate].fps * cells);
  const half = Math.min((RISE_S / RISE_PART) * sampleRate, cell) / 2;
  const bits = new Uint8Array(WORD_BITS);
  let frame = -1;
  let made = 0;
  /** The next place that may have a transition, counted in half bits from the start. */
  let next = 0;
  /** The side after the last transition: the signal begins low, so that the first one rises. */
  let side = -1;
  /** The centre of the last transition, in samples. */
  let edge = -Infinity;

  function hasTransition(place: number): boolean {
    const wanted = Math.floor(place / cells);
    if (wanted !== frame) {
      frame = wanted;
      writeWord(from + frame, rate, bits, user);
    }
    const inFrame = place - frame * cells;
    return inFrame % 2 === 0 || bits[inFrame >> 1] === 1;
  }

  return {
    fill(into) {
      for (let at = 0; at < into.length; at++) {
        const sample = made + at;
        // The transition to come shapes the samples around it.
        while (next * cell - half <= sample) {
          if (hasTransition(next)) {
            side = -side;
            edge = next * cell;
          }
          next++;
        }
        const off = (sample - edge) / half;
        into[at] = amplitude * side * (off >= 1 ? 1 : Math.sin((Math.max(-1, off) * Math.PI) / 2));
      }
      made += into.length;
    },
    made: () => made,
  };
}

/** The number of samples from one frame to another one, the last one included. */
export const samplesOf = (frames: number, rate: FrameRate, sampleRate: number): number =>
  Math.round((frames * sampleRate) / RATES[rate].fps);
