/** The last message that came in with what it caused, and what left last. Kept apart from the traffic, so that no flood of output hides the last input. */
import type { OpenBatch } from '@tawny-signal/core/live/batch';
import { lastInBatch, MOST_LAST } from '@tawny-signal/core/live/last-event';
import type { Passing } from './traffic-log';

export interface LastEvents {
  /** The last input; null if nothing has come in yet. */
  heard: Passing | null;
  /** What it caused at once, the first few. */
  sent: readonly Passing[];
  /** How many messages it caused at once. */
  sentCount: number;
  /** What left last, the newest last. Feedback to lamps often leaves last, and there must be something else to show instead. */
  left: readonly Passing[];
}

export const NO_EVENTS: LastEvents = { heard: null, sent: [], sentCount: 0, left: [] };

/** @param read returns a record of the batch by its place in it */
export function lastEventsAfter(
  before: LastEvents,
  batch: OpenBatch,
  read: (n: number) => Passing,
): LastEvents {
  const { heard, caused, causedCount, left } = lastInBatch(batch, before.heard?.seq ?? null);
  const isNew = heard !== null;
  return {
    heard: isNew ? read(heard) : before.heard,
    sent: [...(isNew ? [] : before.sent), ...caused.map(read)].slice(0, MOST_LAST),
    sentCount: (isNew ? 0 : before.sentCount) + causedCount,
    left: [...before.left, ...left.map(read)].slice(-MOST_LAST),
  };
}
