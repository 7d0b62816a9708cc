/**
 * Finds the time from quarter frames of which some are missing: pieces of several sets are put together, and only a time counts that fits all of them, when
 * no other does, forward or backward. Where none is missing, eight in a row say it sooner (core/timecode/mtc-reader).
 */
import { FRAMES_A_SET, PIECES, type QuarterHeard } from './mtc.js';
import { framesThatFit } from './mtc-fit.js';

/** A piece that is older than this many quarters says too little about now. Together with a set it must be shorter than a second. */
const OLDEST = 10 * PIECES;

/** A way by which a piece comes only each so many quarters, on average, is not the way that it goes. */
const MOST_A_STEP = 5;

export type Way = 1 | -1;

export interface Solved {
  heard: QuarterHeard;
  way: Way;
}

export interface Puzzle {
  /** Adds a piece. @returns where it is, and which way it goes; null while that is not known */
  add(piece: number, nibble: number): Solved | null;
  /** The pieces so far belong to something else. */
  clear(): void;
}

interface Piece {
  piece: number;
  nibble: number;
  /** Quarters from the first piece to this one, if it goes forward and if it goes backward, both above 0. */
  gone: Record<Way, number>;
  /** The number of pieces that came before it. */
  before: number;
}

/** Quarters from one piece to the next that comes, 1–8. */
const stepTo = (next: number, from: number, way: Way): number =>
  (((((next - from) * way - 1) % PIECES) + PIECES) % PIECES) + 1;

export function createPuzzle(): Puzzle {
  const pieces = new Array<Piece | null>(PIECES).fill(null);
  let last: Piece | null = null;

  /** Where it is if it goes this way: all places that fit; null if that can't be said. */
  function solve(here: Piece, all: Piece[], way: Way): Solved[] | null {
    const oldest = all.reduce((before, one) => (one.before < before.before ? one : before));
    const span = here.gone[way] - oldest.gone[way];
    if (span > MOST_A_STEP * (here.before - oldest.before)) return [];
    if (span > OLDEST) return null;
    const start = way * here.gone[way] - here.piece;
    const framesAgo = all.map((one) => ((start - (way * one.gone[way] - one.piece)) / PIECES) * FRAMES_A_SET);
    const nibbles = all.map(({ nibble }) => nibble);
    const { code, frames } = framesThatFit(nibbles, framesAgo);
    return [...frames].map((frame) => {
      const quarter = frame * 4 + here.piece;
      return { heard: { quarter, code, from: quarter - way * here.gone[way] }, way };
    });
  }

  return {
    add(piece, nibble) {
      const step = (way: Way): number => (last ? last.gone[way] + stepTo(piece, last.piece, way) : 0);
      const here = {
        piece,
        nibble,
        gone: { 1: step(1), [-1]: step(-1) },
        before: last ? last.before + 1 : 0,
      };
      pieces[piece] = last = here;
      const all = pieces.filter((one) => one !== null);
      if (all.length < PIECES) return null;
      const forward = solve(here, all, 1);
      const backward = solve(here, all, -1);
      const found = forward && backward ? [...forward, ...backward] : [];
      return found.length === 1 ? found[0]! : null;
    },
    clear() {
      pieces.fill(null);
      last = null;
    },
  };
}
