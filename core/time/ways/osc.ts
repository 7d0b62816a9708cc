/** The position as an OSC message: in seconds, as a text like `01:02:03:04`, or both. */
import { z } from 'zod';
import { sentAddress, whole } from '../../show/fields.js';
import type { OscArgument, OscSignal } from '../../signal.js';
import { RATES, type FrameRate } from '../../timecode/frame-rate.js';
import { framesAt, readTimecode, writePosition } from '../../timecode/timecode.js';
import { DAY_MS, positionAt, type Motion } from '../position.js';
import { createRepeats, MORE } from './frames.js';
import {
  HEARD,
  isOsc,
  SENT,
  type Output,
  type OutputPlace,
  type Reader,
  type ReaderPlace,
  type TimeWay,
} from './way.js';

const PER_SECOND = 'It is sent 1 to 100 times a second.';
export const source = z.object({
  ...HEARD,
  kind: z.literal('osc'),
  /** The first argument that is a number of seconds or a timecode counts. */
  address: sentAddress.default('/time'),
});
export const output = z.object({
  ...SENT,
  kind: z.literal('osc'),
  address: sentAddress.default('/time'),
  perSecond: whole(1, 100, PER_SECOND).default(25),
});
type SourceRow = z.infer<typeof source>;
type OutputRow = z.infer<typeof output>;

/** Reads the frame, with its fraction; null if no argument says a position. */
function frameIn(args: readonly OscArgument[], rate: FrameRate): number | null {
  for (const arg of args) {
    if (arg.type === 'f' || arg.type === 'd' || arg.type === 'i') {
      const ms = arg.value * 1000;
      // NaN fails too.
      return ms >= 0 && ms < DAY_MS ? framesAt(ms, rate) : null;
    }
    if (arg.type === 's') {
      const read = readTimecode(arg.value, rate);
      return read.ok ? read.value : null;
    }
  }
  return null;
}

/** A frame goes on from the last one if it is where it was expected, give or take this many frames and this part of the way. */
const NEAR_FRAMES = 1.01;
const NEAR_PART = 0.5;
const WEIGHT = 0.2;

/** Finds how far the frames of a source are apart that sends as often as it likes. */
function createSteps(fps: number): { take(frame: number, at: number): number } {
  let last: { frame: number; at: number } | null = null;
  let speed = 1;
  let odd = 0;
  return {
    take(frame, at) {
      const before = last;
      last = { frame, at };
      if (!before || at <= before.at) return 1;
      const moved = frame - before.frame;
      const plain = ((at - before.at) * fps) / 1000;
      const wanted = plain * speed;
      const measured = moved / plain;
      if (Math.abs(moved - wanted) <= NEAR_FRAMES + NEAR_PART * Math.abs(wanted)) {
        odd = 0;
        speed += (measured - speed) * WEIGHT;
        return Math.abs(moved);
      }
      // A jump is odd once; another speed stays odd.
      if (++odd > 1 && Math.abs(measured) < 8) speed = measured;
      return 1;
    },
  };
}

function reader({ address }: SourceRow, { rateOf }: ReaderPlace): Reader {
  const rate = rateOf(null);
  const repeats = createRepeats();
  let steps = createSteps(RATES[rate].fps);
  const runs = { says: 'runs' as const, rate, frame: 0, step: 1, from: 0 };
  return {
    read(signal, at) {
      if (signal.kind !== 'osc' || signal.address !== address) return null;
      const frame = frameIn(signal.args, rate);
      if (frame === null) return null;
      switch (repeats.take(frame, at)) {
        case 'stands':
          return { says: 'stands', rate, frame };
        case 'again':
          return MORE;
        case 'new':
          runs.frame = runs.from = frame;
          runs.step = steps.take(frame, at);
          return runs;
      }
    },
    reset() {
      repeats.reset();
      steps = createSteps(RATES[rate].fps);
    },
  };
}

function sender({ address, perSecond }: OutputRow, { rate, put }: OutputPlace): Output {
  const everyMs = 1000 / perSecond;
  let sentAt = -Infinity;
  function tell(motion: Motion, now: number): void {
    const ms = Math.max(0, positionAt(motion, now));
    const signal: OscSignal = {
      kind: 'osc',
      address,
      args: [
        { type: 'f', value: ms / 1000 },
        { type: 's', value: writePosition(ms, rate) },
      ],
    };
    put(signal);
  }
  /** The instants are counted from 0, so that they do not drift. */
  const tickOf = (now: number): number => Math.floor(now / everyMs + 1e-9);
  return {
    dueAt: (motion, now) =>
      motion.speed === 0 ? Infinity : Math.max(now, (tickOf(Math.max(sentAt, 0)) + 1) * everyMs),
    send(motion, now) {
      if (motion.speed === 0 || tickOf(now) === tickOf(sentAt)) return;
      sentAt = now;
      tell(motion, now);
    },
    turned(motion, now) {
      sentAt = now;
      tell(motion, now);
    },
  };
}

export const osc: TimeWay<SourceRow, OutputRow> = {
  words: 'OSC',
  of: 'position',
  fits: isOsc,
  lineWords: 'an OSC line',
  several: true,
  reader,
  output: sender,
  sends: ({ address, perSecond }) => `${address}, ${perSecond} a second`,
};
