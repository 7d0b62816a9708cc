/**
 * What the server says while a large show is being compiled: what is about that show waits until it is played. Panic, arming, stopping, and what is about
 * ports and observers do not wait.
 */
import type { ToEngine } from '@tawny-signal/core/link/messages';

type Told = [message: ToEngine, json: string | undefined];

/** Returns what ends something, without the id of its press; null for what does not. It is done at once, and once more after what waited before it. */
function ending(message: ToEngine): ToEngine | null {
  if (message.t === 'panic') return message;
  const ends = message.t === 'order' && (message.act.do === 'stop' || message.act.do === 'stopAll');
  return ends ? { ...message, press: null } : null;
}

const AT_ONCE: ReadonlySet<ToEngine['t']> = new Set<ToEngine['t']>([
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
  let waiting: Told[] = [];

  function add(...told: Told): void {
    if (waiting.length < MOST_WAITING) waiting.push(told);
  }

  return {
    keep(message, json) {
      if (!isCompiling() || AT_ONCE.has(message.t)) return false;
      const again = ending(message);
      if (again) {
        if (waiting.length > 0) add(again, undefined);
        return false;
      }
      // What asks whether something is done asks about what was said before it.
      if (message.t === 'done' && waiting.length === 0) return false;
      add(message, json);
      return true;
    },
    takeAll() {
      const all = waiting;
      waiting = [];
      // One of them may be another large show: then those after it wait again.
      for (const [message, json] of all) take(message, json);
    },
  };
}
