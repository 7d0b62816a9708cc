/** Where the position is, from the frames that an output sends: each may be held up on its way, so the one that came with the least delay counts. */
import type { TimecodeSignal } from '../../signal.js';
import { RATE_OF_CODE, RATES } from '../frame-rate.js';
import { frameOf } from '../timecode.js';

export interface Here {
  /** The frame, with its fraction. */
  frame: number;
  /** Frames in one ms; negative backward. */
  perMs: number;
  /** 0–3, as core/timecode/frame-rate lists it. */
  code: number;
}

export interface Heading {
  /** @param now when it came, in ms. @returns where the position is now; null if it stands */
  take(told: TimecodeSignal, now: number): Here | null;
}

/** A frame that is further away than this from where it is expected is a jump. */
const JUMP_FRAMES = 1.5;
/** A speed that is steered by less than this goes on. */
const SAME_SPEED = 0.02;
/** How much a frame that came late changes what is expected: it was only held up on its way. */
const LATE_WEIGHT = 0.02;

export function createHeading(): Heading {
  let last: { frame: number; at: number; speed: number; code: number } | null = null;
  return {
    take(told, now) {
      const { speed, code } = told;
      if (speed === 0) {
        last = null;
        return null;
      }
      const rate = RATE_OF_CODE[code]!;
      const frame = frameOf(told, rate);
      const perMs = (speed * RATES[rate].fps) / 1000;
      const expected = last ? last.frame + (now - last.at) * perMs : NaN;
      // Ahead of what was expected, in the way that it runs.
      const ahead = (frame - expected) * Math.sign(perMs);
      const goesOn =
        last?.code === code && Math.abs(last.speed - speed) < SAME_SPEED && Math.abs(ahead) < JUMP_FRAMES;
      const here = !goesOn || ahead > 0 ? frame : expected + (frame - expected) * LATE_WEIGHT;
      last = { frame: here, at: now, speed, code };
      return { frame: here, perMs, code };
    },
  };
}
