/** Reads quarter frames of MIDI timecode (core/timecode/mtc): in a row, with some missing, forward and backward. */
import { RATE_OF_CODE } from './frame-rate.js';
import { checked, PIECES, quarterFrameByte, type QuarterHeard } from './mtc.js';
import { createPuzzle } from './mtc-puzzle.js';
import { frameOf, partsOf } from './timecode.js';

export interface QuarterReader {
  /**
   * Takes the data byte of a quarter frame. @returns where it is; null until eight have come in a row. After that each piece says its place by its number,
   * so that some may be missing between them
   */
  take(data: number): QuarterHeard | null;
}

export function createQuarterReader(): QuarterReader {
  const nibbles = new Uint8Array(PIECES);
  let last = -1;
  /** +1 forward, -1 backward, 0 unknown. */
  let way = 0;
  /** Pieces that came in a row in this direction, this one included. */
  let run = 0;
  /** Where the last piece was; null while unknown. */
  let at: QuarterHeard | null = null;
  const puzzle = createPuzzle();

  function follows(piece: number): number {
    if (last < 0) return 0;
    if (piece === (last + 1) % PIECES) return 1;
    return piece === (last + PIECES - 1) % PIECES ? -1 : 0;
  }

  function complete(piece: number): QuarterHeard | null {
    const pair = (piece0: number): number => nibbles[piece0]! | (nibbles[piece0 + 1]! << 4);
    const code = checked(pair(6) & 0x7f, pair(4) & 0x3f, pair(2) & 0x3f, pair(0) & 0x1f);
    if (!code) return null;
    const quarter = frameOf(code.parts, RATE_OF_CODE[code.code]!) * 4 + piece;
    // The pieces came in a row, and yet it is somewhere else: it has jumped at the beginning of this set.
    if (at && at.quarter + way !== quarter) run = PIECES;
    return { quarter, code: code.code, from: quarter - way * (run - 1) };
  }

  /** Where a piece is if some are missing before it; null if what it says does not fit there. A piece that comes twice is where it was. */
  function afterGap(piece: number, nibble: number): QuarterHeard | null {
    if (!at || way === 0) return null;
    const { code, quarter, from } = at;
    const rate = RATE_OF_CODE[code]!;
    const fits = (there: number): boolean => {
      const start = (there - piece) / 4;
      return start >= 0 && (quarterFrameByte(piece, partsOf(start, rate), rate) & 0x0f) === nibble;
    };
    if (piece === last && fits(quarter)) return at;
    const ahead = ((piece - last) * way + PIECES - 1) % PIECES;
    const there = quarter + way * (((ahead + PIECES) % PIECES) + 1);
    return fits(there) ? { quarter: there, code, from } : null;
  }

  return {
    take(data) {
      const piece = (data >> 4) & 7;
      const step = follows(piece);
      const missing = step === 0 ? afterGap(piece, data & 0x0f) : null;
      if (missing) {
        nibbles[piece] = data & 0x0f;
        last = piece;
        run = 1;
        return (at = missing);
      }
      if (step === 0 || step !== way) {
        // A turn keeps the place: the pieces go back from where they are.
        const turned = step !== 0 && at !== null;
        way = step;
        // The piece before belongs to this row, unless one is missing between them.
        run = step === 0 ? 0 : 1;
        if (!turned) at = null;
      }
      nibbles[piece] = data & 0x0f;
      last = piece;
      run++;
      // A whole set lies between a piece 0 and a piece 7.
      const whole = run >= PIECES && piece === (way === 1 ? PIECES - 1 : 0);
      if (whole) at = complete(piece);
      else if (at) at = { ...at, quarter: at.quarter + way };
      else {
        const solved = puzzle.add(piece, data & 0x0f);
        if (solved) ({ heard: at, way } = solved);
      }
      if (at) puzzle.clear();
      return at;
    },
  };
}
