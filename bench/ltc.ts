/** (u) Linear timecode: how many times faster than it sounds it is made and read, on one core; and after how many frames sources are locked. */
import { createLtcDecoder } from '@tawny-signal/core/timecode/ltc/decoder';
import { createLtcEncoder } from '@tawny-signal/core/timecode/ltc/encoder';
import { createChase } from '@tawny-signal/core/time/chase';
import { quarterFrame } from '@tawny-signal/core/timecode/mtc';
import { createQuarterReader } from '@tawny-signal/core/timecode/mtc-reader';

const SAMPLE_RATE = 48_000;
const SECONDS = 600;
const BLOCK = 4800;

export interface LtcFigures {
  madeTimes: number;
  readTimes: number;
  /** Frames that were read of those that were made. */
  frames: number;
  wanted: number;
  /** Frames of MIDI timecode until the position is known to be right. */
  lockFrames: number;
}

export function benchLtc(): LtcFigures {
  const encoder = createLtcEncoder({ sampleRate: SAMPLE_RATE, rate: '30', from: 0, levelDb: -12 });
  let frames = 0;
  const decoder = createLtcDecoder(SAMPLE_RATE, () => frames++);
  const block = new Float32Array(BLOCK);
  let [making, reading] = [0, 0];
  for (let made = 0; made < SECONDS * SAMPLE_RATE; made += BLOCK) {
    const before = performance.now();
    encoder.fill(block);
    const between = performance.now();
    decoder.feed(block);
    making += between - before;
    reading += performance.now() - between;
  }
  const reader = createQuarterReader();
  const chase = createChase(30, 4);
  let quarters = 0;
  for (let event = ''; event !== 'locked'; quarters++) {
    const heard = reader.take(quarterFrame(800 + quarters, '30').data1, (quarters * 1000) / 120);
    event = heard ? chase.heard(heard.quarter / 4, 0.25, (quarters * 1000) / 120, heard.from / 4) : '';
  }
  return {
    madeTimes: (SECONDS * 1000) / making,
    readTimes: (SECONDS * 1000) / reading,
    frames,
    wanted: SECONDS * 30,
    lockFrames: quarters / 4,
  };
}
