/**
 * What the server says while a large show is being compiled: what is about that show waits until it is played. Panic, arming, and what is about ports and
 * observers do not wait.
 */
import type { ToEngine } from '@tawny-signal/core/link/messages';

const AT_ONCE: ReadonlySet<ToEngine['t']> = new Set<ToEngine['t']>([
  'panic',
  'armed',
  'offer',
  'leave',
  'tellAll',
  'took',
  'why',
  'watchMotions',
  'fail',
]);
/** More than a person does in the time that it takes. */
const MOST_WAITING = 10_000;

export interface WaitingMessages {
  /** Keeps the message if it has to wait. @returns whether it has */
  keep(message: ToEngine, json: string | undefined): boolean;
  /** Takes what has waited, in its order, until the next show is being compiled. */
  takeAll(): void;
}

/** @param isCompiling whether a large show is not played yet */
export function createWaitingMessages(
  isCompiling: () => boolean,
  take: (message: ToEngine, json: string | undefined) => void,
): WaitingMessages {
  let waiting: [ToEngine, string | undefined][] = [];
  return {
    keep(message, json) {
      // What asks whether something is done asks about what was said before it.
      const waits = isCompiling() && (message.t === 'done' ? waiting.length > 0 : !AT_ONCE.has(message.t));
      if (waits && waiting.length < MOST_WAITING) waiting.push([message, json]);
      return waits;
    },
    takeAll() {
      const all = waiting;
      waiting = [];
      // One of them may be another large show: then those after it wait again.
      for (const [message, json] of all) take(message, json);
    },
  };
}
