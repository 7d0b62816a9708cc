/** Listens to one channel of sound: the frames of timecode on it, each with its rate, and how loud it is. */
import type { TimecodeParts } from '../timecode.js';
import { createLtcDecoder } from './decoder.js';
import { createRateFinder } from './rate.js';

export interface HeardFrame {
  parts: TimecodeParts;
  /** 0–3, as core/timecode/frame-rate lists it: how its frames are numbered. */
  code: number;
  backward: boolean;
  /** The sample at which the position was at the frame, counted from the first one that was fed. */
  atSample: number;
}

export interface LtcListener {
  feed(samples: Float32Array): void;
  /** The highest sample since the last call, 0 or more. 1 is full scale. */
  peak(): number;
}

/** @param sampleRate samples a second. @param heard called with each frame, which is valid during the call */
export function createLtcListener(sampleRate: number, heard: (frame: HeardFrame) => void): LtcListener {
  const finder = createRateFinder();
  let highest = 0;
  const decoder = createLtcDecoder(sampleRate, (frame) => {
    const { parts, startSample, endSample, backward } = frame;
    const code = finder.take(frame, (endSample - startSample) / sampleRate);
    // Backward, the position is at the frame where its sound ends.
    heard({ parts, code, backward, atSample: backward ? endSample : startSample });
  });
  return {
    feed(samples) {
      decoder.feed(samples);
      for (const sample of samples) highest = Math.max(highest, Math.abs(sample));
    },
    peak() {
      const before = highest;
      highest = 0;
      return before;
    },
  };
}
