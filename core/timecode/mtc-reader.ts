/** Reads quarter frames of MIDI timecode (core/timecode/mtc): in a row, with some missing, forward and backward. */
import { RATE_OF_CODE, RATES } from './frame-rate.js';
import { checked, PIECES, quarterFrameByte, type QuarterHeard } from './mtc.js';
import { createPuzzle } from './mtc-puzzle.js';
import { frameOf, partsOf } from './timecode.js';

export interface QuarterReader {
  /**
   * Takes the data byte of a quarter frame. @returns where it is; null until eight have come in a row. After that each piece says its place by its number,
   * so that some may be missing between them. After a silence it counts as held up, until a piece says that whole sets are missing
   * @param at when it came, in ms
   */
  take(data: number, at: number): QuarterHeard | null;
}

/** After a silence of so many quarters, the number of a piece does not say how many are missing. */
const SILENT = 7;
/** After so many quarters, the piece before the last one may be the seventh after it: only if it fits nowhere there it is a turn. */
const TURNS = 4;
/** The most sets that may be missing in it: more are another place. */
const MOST_SETS = 12;
const msOfQuarter = (code: number): number => 250 / RATES[RATE_OF_CODE[code]!].fps;

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
  /** When the last piece came, in ms. */
  let cameAt = -Infinity;
  /** Where else it may be after a silence, in which whole sets may be missing; empty while that is known, or nothing is. */
  let others: QuarterHeard[] = [];

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

  /** Quarters from the last piece to this one, 1–8, if less than a set is missing. */
  const stepTo = (piece: number): number => (((((piece - last) * way - 1) % PIECES) + PIECES) % PIECES) + 1;

  const fits = ({ quarter, code }: QuarterHeard, piece: number, nibble: number): boolean => {
    const rate = RATE_OF_CODE[code]!;
    return (quarterFrameByte(piece, partsOf((quarter - piece) / 4, rate), rate) & 0x0f) === nibble;
  };

  /** Where else it may be after a silence of some ms: some sets on from where it was, or may have been. A row begins there with this piece. */
  function placesAfter(ms: number, piece: number): QuarterHeard[] {
    const were = at ? [at, ...others] : others;
    const [first] = were;
    if (!first) return [];
    const sets = Math.ceil(ms / msOfQuarter(first.code) / PIECES) + 1;
    // The last piece once more counts as repeated, or as a set on.
    const known = at && piece !== last ? at.quarter : null;
    const step = way * stepTo(piece);
    const on = new Map<number, QuarterHeard>();
    for (let n = 0; n <= Math.min(sets, MOST_SETS); n++)
      for (const one of were) {
        const quarter = one.quarter + way * PIECES * n;
        on.set(quarter, { ...one, quarter, from: quarter + step });
      }
    return [...on.values()].filter(({ quarter }) => quarter !== known).slice(0, MOST_SETS);
  }

  /** The place of a piece, counted on from the last one; null if what it says does not fit there. A piece that comes twice is where it was. */
  function placeOf(piece: number, nibble: number, place: QuarterHeard): QuarterHeard | null {
    if (piece === last && fits(place, piece, nibble)) return place;
    const there = { ...place, quarter: place.quarter + way * stepTo(piece) };
    return fits(there, piece, nibble) ? there : null;
  }

  /** Takes a piece after a silence: it is where it was held up, as long as that fits; or at the only other place that does. */
  function afterSilence(piece: number, nibble: number): void {
    const step = way * stepTo(piece);
    others = others
      .map((one) => ({ ...one, quarter: one.quarter + step }))
      .filter((one) => fits(one, piece, nibble));
    at &&= placeOf(piece, nibble, at);
    if (at || others.length !== 1) return;
    at = others[0]!;
    others = [];
  }

  /** Which way it goes with this piece: 1, -1, or 0 where some are missing before it. What says another time than a turn would is none. */
  function wayOf(piece: number, nibble: number, quarters: number): number {
    const step = follows(piece);
    if (!at || step !== -way) return step;
    if (quarters > SILENT || !fits({ ...at, quarter: at.quarter + step }, piece, nibble)) return 0;
    return quarters > TURNS && placeOf(piece, nibble, at) ? 0 : step;
  }

  return {
    take(data, now) {
      const piece = (data >> 4) & 7;
      const nibble = data & 0x0f;
      const silentMs = now - cameAt;
      cameAt = now;
      const quarters = silentMs / msOfQuarter(at?.code ?? 0);
      const step = wayOf(piece, nibble, quarters);
      if (quarters > SILENT) {
        puzzle.clear();
        others = placesAfter(silentMs, piece);
      }
      if (step !== 0 && step !== way) others = [];
      if (others.length > 0) {
        const row = step === way ? run + 1 : 1;
        afterSilence(piece, nibble);
        if (at || others.length > 0) {
          nibbles[piece] = nibble;
          last = piece;
          run = row;
          return at;
        }
      }
      const missing = at && step === 0 ? placeOf(piece, nibble, at) : null;
      if (missing) {
        nibbles[piece] = nibble;
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
      nibbles[piece] = nibble;
      last = piece;
      run++;
      // A whole set lies between a piece 0 and a piece 7.
      const whole = run >= PIECES && piece === (way === 1 ? PIECES - 1 : 0);
      if (whole) at = complete(piece);
      else if (at) at = { ...at, quarter: at.quarter + way };
      else {
        const solved = puzzle.add(piece, nibble);
        if (solved) ({ heard: at, way } = solved);
      }
      if (at) puzzle.clear();
      return at;
    },
  };
}
