/** What the engine and the web server say to each other, as JSON on the link (frames.ts). Batches and port bytes have frames of their own. */
import type { OrderAct, OrderEvent } from '../cues/order.js';
import type { Op, PlacedShow } from '../edits.js';
import type {
  CARRIED_KINDS,
  LineHeld,
  LineState,
  OrderSeen,
  Port,
  Indexes,
  WhyStep,
} from '../live/messages.js';
import type { LiveShow } from '../show/live.js';
import type { Transport } from '../time/transport.js';
import type { Send } from '../sends.js';

/** A port that a browser or a stand-in brings. */
export type OfferedPort = Port & { kind: (typeof CARRIED_KINDS)[number] };

/** What each line was sent for one moment since it was told last, counted for the log of the show. */
export interface MomentTally {
  momentId: string;
  /** Null for a line that is not there. */
  lineId: string | null;
  sent: number;
  heldBack: number;
  failed: number;
}

/** Which show the engine plays: its id, and the number of its last edit. */
export interface ShowMark {
  showId: string;
  rev: number;
}

/** What a show goes on from that the engine has not played yet. */
export interface Before {
  armed: boolean;
  /** Where the running order stood (core/cues/runner); null where nothing is known of it. */
  standingBy: string | null;
  /** What was called last, and when, in milliseconds since 1970; null where nothing is known of it. */
  called: { id: string; at: number } | null;
  /** Null where the show begins now, with its own tempo. */
  transport: Transport | null;
  /** Moments whose fades are to be at their ends. */
  finished: string[];
  /** By line, the levels of its slots, slot 1 first, in base64. */
  levels: Record<string, string>;
}

/** What ran when the engine ended, if it was started again since; `ended`: the fades are at their ends. */
export interface Restored {
  /** Milliseconds since 1970. */
  at: number;
  /** Ids of moments. */
  running: string[];
  ended: boolean;
}

/** What the engine says first to whoever connects: all that is known by telling its changes. */
export interface Hello {
  t: 'hello';
  /** Another number for each process of the engine. */
  instance: string;
  /** Null: it has no show yet. */
  mark: ShowMark | null;
  /** It plays the show without knowing how it was: `Before` is wanted. */
  fresh: boolean;
  armed: boolean;
  live: LiveShow;
  transport: Transport;
  order: OrderSeen;
  restored: Restored | null;
  levels: Record<string, string>;
  indexes: Indexes;
  lineStates: Record<string, LineState>;
  cutRoutes: Record<string, number>;
}

export type ToEngine =
  /** `before`: of a show that the engine has not played yet; null where it goes on from what it has. */
  | { t: 'show'; mark: ShowMark; placed: PlacedShow; before: Before | null }
  /** `desk`: who asks. */
  | { t: 'order'; act: OrderAct; desk: string }
  /** An edit; `mark` is that of the show after it. */
  | { t: 'ops'; mark: ShowMark; ops: Op[] }
  | { t: 'armed'; armed: boolean }
  | { t: 'panic'; desk: string }
  | { t: 'try'; mappingId: string; pressed: boolean }
  /** `value`: in what the send carries; undefined for the most it can. */
  | { t: 'tryLine'; lineId: string; send: Send; pressed: boolean; value?: number | undefined }
  /** A beat of the tempo tapped by hand. */
  | { t: 'tap' }
  /** Beats a minute. */
  | { t: 'tempo'; bpm: number }
  /** What was made of the message with this `seq`? Answered with the same `ask`. */
  | { t: 'why'; ask: number; seq: number }
  /** All that was said before is done. Answered with the same `ask`. */
  | { t: 'done'; ask: number }
  /** Asks for the show that is played. */
  | { t: 'giveShow' }
  /** Opens a route that was cut since it closed a loop. */
  | { t: 'restoreRoute'; routeId: string }
  | { t: 'offer'; carrier: number; ports: OfferedPort[] }
  | { t: 'leave'; carrier: number }
  /** Somebody has just begun to look: the next batch says all totals and what every mapping did last. */
  | { t: 'tellAll' }
  /** The server has taken a batch; the next may come. */
  | { t: 'took' }
  /** Fails on purpose, to show that the engine comes back. Used by tests only. */
  | { t: 'fail' };

export type FromEngine =
  | Hello
  | { t: 'indexes'; indexes: Indexes }
  | { t: 'lineStates'; states: Record<string, LineState> }
  | { t: 'held'; held: Record<string, LineHeld> }
  | { t: 'cutRoutes'; cut: Record<string, number> }
  | { t: 'live'; live: LiveShow }
  | { t: 'transport'; transport: Transport }
  | { t: 'order'; order: OrderSeen }
  /** For the log of the show, by the engine's clock, with what it says now. The tallies belong to what happened before the events. */
  | { t: 'log'; tallies: MomentTally[]; events: OrderEvent[]; now: number }
  /** The levels of each line whose levels changed, in base64. */
  | { t: 'levels'; levels: Record<string, string> }
  /** Null: that is too long ago, or was never heard. */
  | { t: 'why'; ask: number; steps: WhyStep[] | null }
  | { t: 'done'; ask: number }
  /** The show that is played; null for none. */
  | { t: 'show'; mark: ShowMark | null; placed: PlacedShow }
  /** An edit did not follow the one before it: the whole show is wanted. */
  | { t: 'wantShow' };
