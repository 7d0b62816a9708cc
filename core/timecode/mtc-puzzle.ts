/**
 * Finds the time from quarter frames of which some are missing: pieces of several sets are put together, and only a time that fits all of them counts.
 * Where none is missing, eight in a row say it sooner (core/timecode/mtc).
 */
import { quarterFrameByte, FRAMES_A_SET, PIECES, type QuarterHeard } from './mtc.js';
import { RATE_OF_CODE, RATES } from './frame-rate.js';
import { exists, frameOf, partsOf } from './timecode.js';

/** A piece that is older than this many quarters says too little about now. */
const OLDEST = 6 * PIECES;

export interface Puzzle {
  /** Adds a piece. @param way +1 forward, -1 backward. @returns where it is; null while that is not known */
  add(piece: number, nibble: number, way: 1 | -1): QuarterHeard | null;
  /** The pieces so far belong to something else. */
  clear(): void;
}

interface Piece {
  /** Quarters from the first piece on, as their numbers say. */
  at: number;
  nibble: number;
}

export function createPuzzle(): Puzzle {
  const pieces = new Array<Piece | null>(PIECES).fill(null);
  let last = -1;
  let here = 0;
  let lastWay = 0;

  function clear(): void {
    pieces.fill(null);
    last = -1;
    here = 0;
  }

  /** The number of sets by which a piece is behind the current one. */
  const setsAgo = (piece: number, { at }: Piece, start: number): number => (start - (at - piece)) / PIECES;

  function solve(piece: number): QuarterHeard | null {
    if (pieces.some((one) => one === null || Math.abs(here - one.at) > OLDEST)) return null;
    const pair = (low: number): number => pieces[low]!.nibble | (pieces[low + 1]!.nibble << 4);
    const code = (pair(6) >> 5) & 3;
    const rate = RATE_OF_CODE[code]!;
    const start = here - piece;
    const fits = (frame: number): boolean =>
      frame >= 0 &&
      pieces.every((one, which) => {
        const there = frame - setsAgo(which, one!, start) * FRAMES_A_SET;
        return there >= 0 && (quarterFrameByte(which, partsOf(there, rate), rate) & 0x0f) === one!.nibble;
      });
    const found = new Set<number>();
    const { base } = RATES[rate];
    for (let frames = 0; frames < base; frames++) {
      const parts = { hours: pair(6) & 0x1f, minutes: pair(4) & 0x3f, seconds: pair(2) & 0x3f, frames };
      if (!exists(parts, rate)) continue;
      // The second may have begun between two of the pieces.
      for (const seconds of [-1, 0, 1]) {
        const frame = frameOf(parts, rate) + seconds * base;
        if (fits(frame)) found.add(frame);
      }
    }
    const [only] = found;
    if (found.size !== 1) return null;
    const quarter = only! * 4 + piece;
    return { quarter, code, from: quarter - here };
  }

  return {
    add(piece, nibble, way) {
      if (way !== lastWay) clear();
      lastWay = way;
      if (last >= 0) here += way * ((((((piece - last) * way - 1) % PIECES) + PIECES) % PIECES) + 1);
      last = piece;
      pieces[piece] = { at: here, nibble };
      return solve(piece);
    },
    clear,
  };
}
