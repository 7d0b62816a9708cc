/** What the engine and the web server say to each other, as JSON on the link (frames.ts). Batches and port bytes have frames of their own. */
import type { OrderAct, OrderEvent } from '../cues/order.js';
import type { Press } from '../cues/presses.js';
import type { Op, PlacedShow } from '../edits.js';
import type { RowOf, TableName } from '../show/tables.js';
import type {
  CARRIED_KINDS,
  LineHeld,
  OrderSeen,
  Port,
  SlotsSeen,
  Indexes,
  WhyStep,
} from '../live/messages.js';
import type { LineState } from '../live/line-state.js';
import type { MotionHandAct } from '../motion/acts.js';
import type { MotionsSeen } from '../motion/seen.js';
import type { LiveShow } from '../show/live.js';
import type { PositionAct } from '../time/position.js';
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

/** Identifies a version of a show: its id, and the number of its last edit. */
export interface ShowMark {
  showId: string;
  rev: number;
}

/** The state with which the engine starts a show that it has not played yet. */
export interface Before {
  /** Null if armed or safe stays as it is, because the engine plays already. */
  armed: boolean | null;
  /** What stood by: the id of a moment, or `AT_THE_END`; null if unknown. */
  standingBy: string | null;
  /** The last call, with its time in milliseconds since 1970; null if unknown. */
  called: { id: string; at: number } | null;
  /** Null if the show starts with its own tempo. */
  transport: Transport | null;
  /** Moments whose fades are set to their ends. */
  finished: string[];
  /** The levels of the slots of each line, slot 1 first, in base64. */
  levels: Record<string, string>;
}

/** What was running when the engine ended, if it has restarted since. `ended` is true if the fades were set to their ends. */
export interface Restored {
  /** Milliseconds since 1970. */
  at: number;
  /** Ids of moments. */
  running: string[];
  ended: boolean;
}

/** The first message of the engine to a server that connects: everything that is otherwise reported as it changes. */
export interface Hello {
  t: 'hello';
  /** Identifies the process of the engine. */
  instance: string;
  /** Null if it has no show yet. */
  mark: ShowMark | null;
  /** True if it has no live state for the show and needs `Before`. */
  fresh: boolean;
  armed: boolean;
  live: LiveShow;
  transport: Transport;
  order: OrderSeen;
  motions: MotionsSeen;
  restored: Restored | null;
  levels: Record<string, string>;
  indexes: Indexes;
  lineStates: Record<string, LineState>;
  cutRoutes: Record<string, number>;
}

/** Rows of a show that is going to be told. */
export interface RowsPiece {
  t: 'rows';
  /** Counted from 0 for each show. */
  number: number;
  table: TableName;
  rows: RowOf[TableName][];
  /** The positions of these rows. */
  position: PlacedShow['position'];
}

export type ToEngine =
  /**
   * `before`: of a show that the engine has not played yet; null where it goes on from what it has. `pieces`: how many of them
   * came before it (pieces.ts); left out for a show that is whole.
   */
  | { t: 'show'; mark: ShowMark; placed: PlacedShow; before: Before | null; pieces?: number }
  | RowsPiece
  /** `desk`: who asks. `press`: what it is known by if it comes again. Answered by `ordered` with the same `ask`. */
  | { t: 'order'; ask: number; act: OrderAct; desk: string; press: Press | null }
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
  | { t: 'position'; act: PositionAct }
  | { t: 'tempoSource'; source: string }
  /** Something is done to a motion by hand. */
  | { t: 'motion'; id: string; act: MotionHandAct }
  /** Whether somebody looks at what motions make. */
  | { t: 'watchMotions'; on: boolean }
  /** Asks what mappings did with the message with this `seq`. Answered with the same `ask`. */
  | { t: 'why'; ask: number; seq: number }
  /** Asks for an answer once everything before it is done. Answered with the same `ask`. */
  | { t: 'done'; ask: number }
  /** Asks for the show that is played. */
  | { t: 'giveShow' }
  /** Reopens a route that was cut because it closed a loop. */
  | { t: 'restoreRoute'; routeId: string }
  | { t: 'offer'; carrier: number; ports: OfferedPort[] }
  | { t: 'leave'; carrier: number }
  /** A new observer is connected: the next batch contains all totals and what every mapping did last. */
  | { t: 'tellAll' }
  /** The server has processed a batch and is ready for the next. */
  | { t: 'took' }
  /** Fails on purpose, to show that the engine comes back. Used by tests only. */
  | { t: 'fail' };

export type FromEngine =
  | Hello
  /** All lines; and of the senders, those that are new. */
  | { t: 'indexes'; indexes: Indexes }
  | { t: 'lineStates'; states: Record<string, LineState> }
  | { t: 'held'; held: Record<string, LineHeld> }
  | { t: 'cutRoutes'; cut: Record<string, number> }
  | { t: 'live'; live: LiveShow; showId: string }
  | { t: 'transport'; transport: Transport }
  | { t: 'order'; order: OrderSeen; showId: string }
  /** Which motions run; and, while somebody looks, what they make. */
  | { t: 'motions'; motions: MotionsSeen }
  /** For the log of the show. Times are by the engine's clock; `now` is its current time. The tallies belong to the time before the events. */
  | { t: 'log'; tallies: MomentTally[]; events: OrderEvent[]; now: number }
  /** The levels of each line whose levels changed, in base64. */
  | { t: 'levels'; levels: Record<string, string> }
  /** What else is known of the slots of lines; only of those where something changed. */
  | { t: 'slots'; slots: Record<string, SlotsSeen> }
  /** Null if that is too long ago, or was never heard. */
  | { t: 'why'; ask: number; steps: WhyStep[] | null }
  | { t: 'done'; ask: number }
  /** It is done, now or before; it is refused, because it came too late; or an engine died while it did it, and nobody knows how far it came. */
  | { t: 'ordered'; ask: number; how: 'done' | 'late' | 'unsure' }
  /** The show that is played. `mark` is null if there is none. */
  | { t: 'show'; mark: ShowMark | null; placed: PlacedShow }
  /** An edit is missing, so the whole show is needed. */
  | { t: 'wantShow' };
