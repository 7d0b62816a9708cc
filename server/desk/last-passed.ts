/** The last message that came in, what it caused, and what left last: for browsers that connect later, so that a reload loses no last event. */
import {
  directCauseOf,
  directionOf,
  isRelease,
  openBatch,
  pastBatch,
  readRecord,
  sizeOfRecord,
} from '@tawny-signal/core/live/batch';
import type { Indexes } from '@tawny-signal/core/live/messages';

export interface LastPassed {
  /** @param bytes of a batch, valid during the call only */
  take(bytes: Uint8Array): void;
  /** The numbers of lines and senders. Once one that was known means something else, the records can't be read any more. */
  indexes(indexes: Indexes): void;
  /** The records as a batch; null for none. */
  batch(): Uint8Array | null;
}

/** The most messages that are kept of what one input caused. */
const MOST_CAUSED = 8;

/** Whether every id still has the number that it had. */
const isKept = (before: Record<string, number>, now: Record<string, number>): boolean =>
  Object.entries(before).every(([id, index]) => now[id] === index);

interface Heard {
  seq: number;
  bytes: Uint8Array;
  caused: Uint8Array[];
}

export function createLastPassed(): LastPassed {
  let heard: Heard | null = null;
  let left: Uint8Array | null = null;
  let known: Indexes = { lines: {}, senders: {} };
  return {
    take(bytes) {
      const { view, records } = openBatch(bytes);
      for (const at of records) {
        const isHeard = directionOf(view, at) === 'in' || directionOf(view, at) === 'bad';
        const own = (): Uint8Array => bytes.slice(at, at + sizeOfRecord(view, at));
        if (isHeard) {
          const record = readRecord(view, bytes, at);
          if (!isRelease(record.bytes)) heard = { seq: record.seq, bytes: own(), caused: [] };
        } else if (heard && directCauseOf(view, at) === heard.seq && heard.caused.length < MOST_CAUSED) {
          heard.caused.push(own());
        } else if (at === records.at(-1)) left = own();
      }
    },
    indexes(next) {
      const { lines, senders } = known;
      known = next;
      if (isKept(lines, next.lines) && isKept(senders, next.senders)) return;
      heard = null;
      left = null;
    },
    batch() {
      const records = [...(heard ? [heard.bytes, ...heard.caused] : []), ...(left ? [left] : [])];
      return records.length > 0 ? pastBatch(records) : null;
    },
  };
}
