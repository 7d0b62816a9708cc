/** MIDI timecode: quarter frames in play, a full message where it stops or jumps. */
import { z } from 'zod';
import { RATE_OF_CODE, type FrameRate } from '../../timecode/frame-rate.js';
import { FRAMES_A_SET, fullFrame, QUARTER_FRAME, quarterFrame, readFullFrame } from '../../timecode/mtc.js';
import { createQuarterReader } from '../../timecode/mtc-reader.js';
import { frameAt, frameOf, framesAt, msOf } from '../../timecode/timecode.js';
import { positionAt, type Motion } from '../position.js';
import {
  HEARD,
  isMidi,
  SENT,
  type Output,
  type OutputPlace,
  type Reader,
  type ReaderPlace,
  type Said,
  type TimeWay,
} from './way.js';

export const source = z.object({ ...HEARD, kind: z.literal('mtc') });
export const output = z.object({ ...SENT, kind: z.literal('mtc') });

const MORE: Said = { says: 'more' };

function reader({ rateOf }: ReaderPlace): Reader {
  let quarters = createQuarterReader();
  const runs = { says: 'runs' as const, rate: '25' as FrameRate, frame: 0, step: 0.25, from: 0 };

  function full(bytes: Uint8Array): Said | null {
    const read = readFullFrame(bytes);
    if (!read) return null;
    quarters = createQuarterReader();
    const frame = frameOf(read.parts, RATE_OF_CODE[read.code]!);
    return { says: 'stands', rate: rateOf(read.code), frame };
  }

  return {
    read(signal, at) {
      if (signal.kind === 'sysex') return full(signal.bytes);
      if (signal.kind !== 'system' || signal.status !== QUARTER_FRAME) return null;
      const heard = quarters.take(signal.data1, at);
      if (!heard) return MORE;
      runs.rate = rateOf(heard.code);
      runs.frame = heard.quarter / 4;
      runs.from = heard.from / 4;
      return runs;
    },
    reset() {
      quarters = createQuarterReader();
    },
  };
}

/** Quarters that are sent at once if the engine was late; what is older is left out, and the receiver locks again. */
const MOST_LATE = 8;

function sender({ rate, put }: OutputPlace): Output {
  /** The quarter that is sent next, and the way it runs; null until that is known after a turn. */
  let next: { quarter: number; way: number } | null = null;
  const hereOf = (motion: Motion, now: number): number => framesAt(positionAt(motion, now), rate) * 4;
  const timeOf = ({ ms, at, speed }: Motion, quarter: number): number =>
    at + (msOf(quarter / 4, rate) - ms) / speed;

  /** Sets begin with a piece 0, at every second frame; backward with a piece 7. */
  function first(motion: Motion, now: number): number {
    const here = hereOf(motion, now);
    const set = FRAMES_A_SET * 4;
    return motion.speed > 0
      ? Math.ceil(here / set - 1e-9) * set
      : Math.floor((here + 1) / set + 1e-9) * set - 1;
  }
  function upNext(motion: Motion, now: number): { quarter: number; way: number } {
    const way = Math.sign(motion.speed);
    if (next?.way !== way) next = { quarter: first(motion, now), way };
    return next;
  }

  return {
    dueAt: (motion, now) =>
      motion.speed === 0 ? Infinity : Math.max(now, timeOf(motion, upNext(motion, now).quarter)),
    send(motion, now) {
      if (motion.speed === 0) return;
      const here = hereOf(motion, now);
      const { quarter, way } = upNext(motion, now);
      if ((here - quarter) * way > MOST_LATE) next = null;
      const one = upNext(motion, now);
      for (let sent = 0; sent < MOST_LATE && (here - one.quarter) * way >= -1e-6; sent++) {
        put(quarterFrame(one.quarter, rate));
        one.quarter += way;
      }
    },
    turned(motion, now) {
      next = null;
      if (motion.speed === 0) put(fullFrame(frameAt(positionAt(motion, now), rate), rate));
    },
  };
}

export const mtc: TimeWay<z.infer<typeof source>, z.infer<typeof output>> = {
  words: 'MIDI timecode',
  of: 'position',
  fits: isMidi,
  lineWords: 'a MIDI line',
  reader: (_, place) => reader(place),
  output: (_, place) => sender(place),
  sends: (_, rate) => rate,
};
