/** Reads linear timecode from what a program records. A frame's time is that of its sample, by the sound card's clock. */
import type { TimecodeSignal } from '@tawny-signal/core/signal';
import { createSampleClock } from '@tawny-signal/core/time/sample-clock';
import { createLtcListener } from '@tawny-signal/core/timecode/ltc/listener';
import { SAMPLE_RATE } from './sound-programs.js';

const BYTES = 2;
const FULL_SCALE = 32_768;

export interface Recorder {
  /** Takes what the program wrote, cut anywhere. @param at when it came, in monotonic ms */
  take(bytes: Buffer, at: number): void;
  /** The length of what it has taken, in ms. */
  heardMs(): number;
  /** The highest sample since the last call: 0–1. */
  peak(): number;
}

/** @param channel counted from 0. @param heard called with each frame, and when it was recorded */
export function createRecorder(
  channel: number,
  channels: number,
  heard: (frame: TimecodeSignal, at: number) => void,
): Recorder {
  const size = channels * BYTES;
  const clock = createSampleClock(SAMPLE_RATE);
  const listener = createLtcListener(SAMPLE_RATE, ({ parts, code, backward, atSample }) =>
    heard({ kind: 'timecode', ...parts, code, speed: backward ? -1 : 1 }, clock.timeOf(atSample)!),
  );
  let rest: Buffer = Buffer.alloc(0);
  let count = 0;
  return {
    take(bytes, at) {
      const all = rest.length === 0 ? bytes : Buffer.concat([rest, bytes]);
      const samples = Math.floor(all.length / size);
      rest = all.subarray(samples * size);
      if (samples === 0) return;
      const block = new Float32Array(samples);
      for (let i = 0; i < samples; i++) block[i] = all.readInt16LE(i * size + channel * BYTES) / FULL_SCALE;
      count += samples;
      clock.saw(count, at);
      listener.feed(block);
    },
    heardMs: () => (count * 1000) / SAMPLE_RATE,
    peak: () => listener.peak(),
  };
}
