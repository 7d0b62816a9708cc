/** From where to where linear timecode is made, as people type it. */
import { MOST_SAMPLES } from '../../files/wav.js';
import type { FrameRate } from '../frame-rate.js';
import { readTimecode } from '../timecode.js';
import { samplesOf } from './encoder.js';

export const SAMPLE_RATES = [44_100, 48_000, 88_200, 96_000, 192_000] as const;

/** The last frame ends with the transition that begins the next one, so a little more than the frames is made, in s. */
const TAIL_S = 0.001;

export type LtcRangeRead =
  | { ok: true; value: { from: number; frames: number; samples: number } }
  | { ok: false; field: 'from' | 'to'; reason: string };

/** @param to the last frame, which is included */
export function readLtcRange(from: string, to: string, rate: FrameRate, sampleRate: number): LtcRangeRead {
  const first = readTimecode(from, rate);
  if (!first.ok) return { ok: false, field: 'from', reason: first.reason };
  const last = readTimecode(to, rate);
  if (!last.ok) return { ok: false, field: 'to', reason: last.reason };
  if (last.value <= first.value)
    return {
      ok: false,
      field: 'to',
      reason: `It ends before it begins: write a timecode after ${from.trim()}.`,
    };
  const frames = last.value - first.value + 1;
  const samples = samplesOf(frames, rate, sampleRate) + Math.ceil(sampleRate * TAIL_S);
  if (samples > MOST_SAMPLES)
    return {
      ok: false,
      field: 'to',
      reason:
        'A WAV file of this length has no room for its size. Make it in parts, or with fewer samples a second.',
    };
  return { ok: true, value: { from: first.value, frames, samples } };
}
