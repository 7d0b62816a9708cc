/** The last message that came in, what it caused, and what left last: for browsers that connect later, so that a reload loses no last event. */
import { openBatch, pastBatch, seqOf, sizeOfRecord } from '@tawny-signal/core/live/batch';
import { lastInBatch, MOST_LAST } from '@tawny-signal/core/live/last-event';
import type { Indexes } from '@tawny-signal/core/live/messages';

export interface LastPassed {
  /** @param bytes of a batch, valid during the call only */
  take(bytes: Uint8Array): void;
  /**
   * The numbers of lines and senders. Once one that was known means something else, the records can't be read any more.
   * @param more whether the senders are those that are new
   */
  indexes(indexes: Indexes, more: boolean): void;
  /** The records as a batch; null for none. */
  batch(): Uint8Array | null;
}

/** Whether every id still has the number that it had. */
const isKept = (before: Record<string, number>, now: Record<string, number>): boolean =>
  Object.entries(before).every(([id, index]) => now[id] === index);

interface Kept {
  seq: number;
  bytes: Uint8Array;
}

export function createLastPassed(): LastPassed {
  let heard: Kept | null = null;
  let caused: Kept[] = [];
  let left: Kept | null = null;
  let known: Indexes = { lines: {}, senders: {} };
  return {
    take(bytes) {
      const batch = openBatch(bytes);
      const { view, records } = batch;
      const kept = (n: number): Kept => {
        const at = records[n]!;
        return { seq: seqOf(view, at), bytes: bytes.slice(at, at + sizeOfRecord(view, at)) };
      };
      const last = lastInBatch(batch, heard?.seq ?? null);
      if (last.heard !== null) [heard, caused] = [kept(last.heard), []];
      caused = [...caused, ...last.caused.map(kept)].slice(0, MOST_LAST);
      const newest = last.left.at(-1);
      if (newest !== undefined) left = kept(newest);
    },
    indexes(next, more) {
      const { lines, senders } = known;
      known = {
        lines: next.lines,
        senders: more ? Object.assign(senders, next.senders) : { ...next.senders },
      };
      if (isKept(lines, next.lines) && (more || isKept(senders, next.senders))) return;
      [heard, caused, left] = [null, [], null];
    },
    batch() {
      const all = [heard, ...caused, left].filter((one) => one !== null);
      const once = [...new Map(all.map((one) => [one.seq, one])).values()];
      return once.length > 0 ? pastBatch(once.sort((a, b) => a.seq - b.seq).map(({ bytes }) => bytes)) : null;
    },
  };
}
