/** Finds in a batch the last message that came in, what it caused, and what left last, without decoding the others. */
import { directCauseOf, directionOf, isReleaseAt, isTimeAt, seqOf, type OpenBatch } from './batch.js';

/** Places of records in a batch. */
export interface LastInBatch {
  /** The last input; null if nothing came in. Releases are left out, since they would hide the press before them, and so are clock and timecode. */
  heard: number | null;
  /** What the last input caused at once: `heard`, or the input that was the last one before this batch. The first few. */
  caused: number[];
  /** How many records it caused. */
  causedCount: number;
  /** What left last, the newest last, for whatever reason; withheld output too. */
  left: number[];
}

/** The most records in each list. */
export const MOST_LAST = 8;

/** @param before the `seq` of what was the last input before this batch; null for none */
export function lastInBatch({ view, records }: OpenBatch, before: number | null): LastInBatch {
  let heard: number | null = null;
  const left: number[] = [];
  for (let n = records.length - 1; n >= 0 && (heard === null || left.length < MOST_LAST); n--) {
    const at = records[n]!;
    if (isTimeAt(view, at)) continue;
    const direction = directionOf(view, at);
    if (direction === 'out' || direction === 'heldBack') {
      if (left.length < MOST_LAST) left.unshift(n);
    } else if (heard === null && !(direction === 'in' && isReleaseAt(view, at))) heard = n;
  }
  const caused: number[] = [];
  let causedCount = 0;
  const cause = heard === null ? before : seqOf(view, records[heard]!);
  for (let n = heard ?? 0; cause !== null && n < records.length; n++) {
    const at = records[n]!;
    if (directCauseOf(view, at) !== cause) continue;
    causedCount++;
    if (caused.length < MOST_LAST) caused.push(n);
  }
  return { heard, caused, causedCount, left };
}
