/** Timecode that comes and leaves one frame a message, as over Art-Net and in sound. */
import { RATE_OF_CODE, RATES, type FrameRate } from '../../timecode/frame-rate.js';
import { frameOf, framesAt, msOf, partsOf } from '../../timecode/timecode.js';
import { positionAt, type Motion } from '../position.js';
import type { Output, OutputPlace, Reader, ReaderPlace, Said } from './way.js';

/** A source that says the same for so long stands still, in ms: at a quarter of full speed a frame takes 167 ms. */
export const STANDS_MS = 250;
export const MORE: Said = { says: 'more' };

/** Frames that a position may be steered back without a jump. */
const STEERED_BACK = 2;

/** Tells that a source stands, from what it says again and again. */
export interface Repeats {
  /** @param place what the source says, as a number. @returns `new` if it says something new, `again`, or `stands`, once, when it has said it for long enough */
  take(place: number, at: number): 'new' | 'again' | 'stands';
  reset(): void;
}

export function createRepeats(): Repeats {
  let last = NaN;
  let since = 0;
  let said = false;
  return {
    take(place, at) {
      if (place !== last) {
        last = place;
        since = at;
        said = false;
        return 'new';
      }
      if (said || at - since < STANDS_MS) return 'again';
      said = true;
      return 'stands';
    },
    reset() {
      last = NaN;
    },
  };
}

export function frameReader({ rateOf }: ReaderPlace): Reader {
  const repeats = createRepeats();
  const runs = { says: 'runs' as const, rate: '25' as FrameRate, frame: 0, step: 1, from: 0 };
  return {
    read(signal, at) {
      if (signal.kind !== 'timecode') return null;
      runs.rate = rateOf(signal.code);
      runs.frame = runs.from = frameOf(signal, RATE_OF_CODE[signal.code]!);
      switch (repeats.take(runs.frame, at)) {
        case 'new':
          return runs;
        case 'again':
          return MORE;
        case 'stands':
          return { says: 'stands', rate: runs.rate, frame: runs.frame };
      }
    },
    reset: () => repeats.reset(),
  };
}

/** Sends each frame when it begins; where the position stands, the frame there. */
export function frameSender({ rate, put }: OutputPlace): Output {
  /** The last frame that was sent, or that began before this run. */
  let last: number | null = null;
  const here = (motion: Motion, now: number): number => {
    const frames = framesAt(positionAt(motion, now), rate);
    return motion.speed < 0 ? Math.ceil(frames - 1e-6) : Math.floor(frames + 1e-6);
  };
  /** The frame that is due. A position that is steered a little back does not say the same frame twice. */
  function current(motion: Motion, now: number): number {
    const frame = here(motion, now);
    const way = Math.sign(motion.speed);
    const back = last === null ? 0 : (last - frame) * way;
    return last !== null && back > 0 && back <= STEERED_BACK ? last : frame;
  }
  function tell(frame: number, speed: number): void {
    const { hours, minutes, seconds, frames } = partsOf(frame, rate);
    put({ kind: 'timecode', hours, minutes, seconds, frames, code: RATES[rate].code, speed });
  }
  return {
    dueAt(motion, now) {
      if (motion.speed === 0) return Infinity;
      const frame = current(motion, now);
      if (frame !== last) return now;
      const next = msOf(frame + Math.sign(motion.speed), rate);
      return Math.max(now, motion.at + (next - motion.ms) / motion.speed);
    },
    send(motion, now) {
      const frame = current(motion, now);
      if (motion.speed === 0 || frame === last) return;
      last = frame;
      tell(frame, motion.speed);
    },
    turned(motion, now) {
      const frame = here(motion, now);
      const frames = framesAt(positionAt(motion, now), rate);
      // A frame that has begun already is not sent: it would come late.
      last = motion.speed === 0 || Math.abs(frames - frame) > 1e-3 ? frame : null;
      if (motion.speed === 0) tell(frame, 0);
    },
  };
}
