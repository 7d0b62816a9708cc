/** The running order as others see it: what it can be asked to do, how it stands, and what happened in it. */
import type { MomentSend } from '../show/moment.js';

/** A command to the running order. Ids are those of moments. */
export type OrderAct =
  /** Calls the moment that stands by. Ignored within the guard time after the last Go. */
  | { do: 'go' }
  | { do: 'call'; id: string }
  /** Performs a moment without changing what stands by. */
  | { do: 'try'; id: string }
  /** Performs the moment that stands by without calling it. */
  | { do: 'tryNext' }
  /** Performs a single send, for Try in a cell. */
  | { do: 'trySend'; send: MomentSend }
  | { do: 'hold' }
  | { do: 'resume' }
  | { do: 'stop'; id: string }
  /** Fades out the lights that moments set in `ms`, then stops everything that was running when this was asked. */
  | { do: 'stopAll'; ms: number }
  /** Makes the moment before the one that stands by stand by. */
  | { do: 'back' }
  /** Makes a moment stand by. With `catchUp`, every line is sent what it would have by then; levels take `fadeMs`. */
  | { do: 'standBy'; id: string; catchUp: boolean; fadeMs?: number | undefined }
  /** Makes the moment after this one stand by, and sends every line what it would have by then; null for before the first. */
  | { do: 'catchUpPast'; id: string | null }
  /** Takes back the last catching up: what stood by then stands by, and every line gets what it had. Levels take `fadeMs`. */
  | { do: 'jumpBack'; fadeMs?: number | undefined };

/** Who asked: a person at a desk, a mapping or the caller of a moment, another moment, the follow of a moment, or timecode. */
export type AskedBy =
  | { of: 'desk'; name: string }
  | { of: 'mapping'; id: string }
  | { of: 'moment'; id: string }
  | { of: 'motion'; id: string }
  | { of: 'follow' }
  /** The position has reached its timecode, or has jumped. */
  | { of: 'timecode' };

/** An event of the running order, for the log of the show. */
export interface OrderEvent {
  /** Monotonic ms. */
  at: number;
  what:
    | 'called'
    | 'ran'
    | 'tried'
    | 'stopped'
    | 'stoppedAll'
    | 'held'
    | 'resumed'
    | 'stoodBy'
    | 'caughtUp'
    | 'panic';
  /** The moment; null if the event is about none in particular. */
  id: string | null;
  by: AskedBy;
}

/** How many calls are told. */
export const MOST_CALLS = 3;

/** Stands by after the last moment was called. */
export const AT_THE_END = '';

export interface RunningMoment {
  id: string;
  /** When it was called, and when its last fade or delay ends, in monotonic ms. */
  since: number;
  endsAt: number;
  /** True if something of it sounds until it is stopped. */
  soundsOn: boolean;
}

export interface OrderState {
  standingBy: string | null;
  /** In the order in which they were called. */
  running: readonly RunningMoment[];
  /** Moments that will call themselves, with their times in monotonic ms. */
  following: readonly { id: string; at: number }[];
  /** When it was held, in monotonic ms; null while it runs. */
  heldAt: number | null;
  /** The last call; null if nothing was called yet. */
  called: { id: string; at: number } | null;
  /** The last calls, the newest first; at most `MOST_CALLS`. */
  lastCalls: readonly { id: string; at: number }[];
  /** What stood by before the last catching up, which can be taken back; null if there was none, or something was called since. */
  jumpedFrom: string | null;
}
