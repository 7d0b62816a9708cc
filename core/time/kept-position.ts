/** What is kept of the position for a restart. */
import type { Motion, PositionState } from './position.js';

/** The state of the position before a restart. */
export interface PositionBefore {
  motion: Motion;
  counts: string;
  chosen: string;
  callsOn: boolean;
  loop: PositionState['loop'];
  ownSpeed: number;
  /** The position up to which moments were called; null if it has not run. Left out if that is not known: then up to where it was. */
  calledTo?: number | null | undefined;
}

/**
 * A position that was kept this long ago, in ms, is gone on from as if nothing had happened. An engine is back within half a second, on a machine that
 * has too much to do within some seconds; a position of an hour ago is not played by itself.
 */
export const RECENT_MS = 10_000;
