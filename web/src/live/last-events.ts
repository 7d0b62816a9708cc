/** The last message that came in with what it caused, and what left last. Kept apart from the traffic, so that no flood of output hides the last input. */
import { directCauseOf, directionOf, isRelease, type OpenBatch } from '@tawny-signal/core/live/batch';
import type { Passing } from './traffic-log';

export interface LastEvents {
  /** The last input; null if nothing has come in yet. A release is left out, since it would hide the press before it. */
  heard: Passing | null;
  /** What it caused at once, the first few. */
  sent: readonly Passing[];
  /** How many messages it caused at once. */
  sentCount: number;
  /** What left last, the newest last, for whatever reason; withheld output too. */
  left: readonly Passing[];
}

export const NO_EVENTS: LastEvents = { heard: null, sent: [], sentCount: 0, left: [] };
const MOST_SENT = 8;
/** Feedback to lamps often leaves last. There must be something else to show instead. */
const MOST_LEFT = 8;

/** @param read returns a record of the batch by its place in it */
export function lastEventsAfter(
  before: LastEvents,
  { view, records }: OpenBatch,
  read: (n: number) => Passing,
): LastEvents {
  let { heard, sent, sentCount } = before;
  const left: number[] = [];
  records.forEach((at, n) => {
    const direction = directionOf(view, at);
    if (direction === 'in' || direction === 'bad') {
      const record = read(n);
      if (direction === 'in' && isRelease(record.bytes)) return;
      [heard, sent, sentCount] = [record, [], 0];
      return;
    }
    left.push(n);
    if (!heard || directCauseOf(view, at) !== heard.seq) return;
    sentCount++;
    if (sent.length < MOST_SENT) sent = [...sent, read(n)];
  });
  const newest = left.slice(-MOST_LEFT).map(read);
  return { heard, sent, sentCount, left: [...before.left, ...newest].slice(-MOST_LEFT) };
}
