/** Finds out at which rate timecode in sound is numbered: the sound itself does not say it. */
import type { LtcFrame } from './decoder.js';

export interface RateFinder {
  /** @param seconds how long the frame's sound took. @returns the code, 0–3, as core/timecode/frame-rate lists it */
  take(read: LtcFrame, seconds: number): number;
}

const [AT_24, AT_25, DROP, AT_30] = [0, 1, 2, 3];

/** The code of the rate whose last number in a second is this one; null for none. */
const codeOfLast = (frames: number): number | null =>
  frames === 23 ? AT_24 : frames === 24 ? AT_25 : frames === 29 ? AT_30 : null;

export function createRateFinder(): RateFinder {
  /** What the change from one second to the next has shown; null before the first. */
  let shown: number | null = null;
  let before: LtcFrame['parts'] | null = null;
  return {
    take({ parts, drop, backward }, seconds) {
      const [earlier, later] = backward ? [parts, before] : [before, parts];
      before = { ...parts };
      const isNext = earlier && later && (earlier.seconds + 1) % 60 === later.seconds;
      if (isNext && later.frames <= 2 && earlier.frames >= 23) shown = codeOfLast(earlier.frames) ?? shown;
      // A higher number than the rate has says that it is another one.
      if (shown === AT_24 && parts.frames > 23) shown = null;
      if (shown === AT_25 && parts.frames > 24) shown = null;
      if (drop) return DROP!;
      if (shown !== null) return shown;
      if (parts.frames > 24) return AT_30!;
      const fps = 1 / seconds;
      return fps < 24.5 ? AT_24! : fps < 27.5 ? AT_25! : AT_30!;
    },
  };
}
