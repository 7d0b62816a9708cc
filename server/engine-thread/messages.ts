/** What the main thread and the engine thread say to each other. */
import type { OrderAct, OrderEvent } from '@tawny-signal/core/cues/runner';
import type { Op, PlacedShow } from '@tawny-signal/core/edits';
import type { LineHeld, LineState, OrderSeen, Slots, WhyStep } from '@tawny-signal/core/live/messages';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Send } from '@tawny-signal/core/show/send';
import type { OfferedPort } from './carriers.js';
import type { MomentTally } from './tallies.js';

/** What a thread that is started again goes on from. */
export interface Before {
  /** Where the running order stood (core/cues/runner); null where nothing is known of it. */
  standingBy: string | null;
  /** Moments whose fades are to be at their ends. */
  finished: string[];
  /** By line, the levels of its slots, slot 1 first. */
  levels: Record<string, Uint8Array>;
}

export type ToThread =
  | { t: 'show'; placed: PlacedShow; armed: boolean; before: Before }
  /** `desk`: who asks. */
  | { t: 'order'; act: OrderAct; desk: string }
  | { t: 'ops'; ops: Op[] }
  | { t: 'armed'; armed: boolean }
  | { t: 'panic'; desk: string }
  | { t: 'try'; mappingId: string; pressed: boolean }
  /** `value`: in what the send carries; undefined for the most it can. */
  | { t: 'tryLine'; lineId: string; send: Send; pressed: boolean; value: number | undefined }
  /** A beat of the tempo tapped by hand. */
  | { t: 'tap' }
  /** What was made of the message with this `seq`? Answered with the same `ask`. */
  | { t: 'why'; ask: number; seq: number }
  /** Opens a route that was cut since it closed a loop. */
  | { t: 'restoreRoute'; routeId: string }
  | { t: 'offer'; carrier: number; ports: OfferedPort[] }
  | { t: 'leave'; carrier: number }
  | { t: 'portBytes'; carrier: number; port: number; bytes: Uint8Array }
  /** Somebody has just begun to look: the next batch says all totals and what every mapping did last. */
  | { t: 'tellAll' }
  /** The main thread has taken a batch; the next may come. */
  | { t: 'took' }
  /** Fails on purpose, to show that the thread comes back. Used by tests only. */
  | { t: 'fail' }
  | { t: 'close' };

export type FromThread =
  | { t: 'ready' }
  | { t: 'batch'; bytes: Uint8Array }
  | { t: 'slots'; slots: Slots }
  | { t: 'lineStates'; states: Record<string, LineState> }
  | { t: 'held'; held: Record<string, LineHeld> }
  | { t: 'cutRoutes'; cut: Record<string, number> }
  | { t: 'live'; live: LiveShow; beatAt: number }
  | { t: 'order'; order: OrderSeen }
  /** For the log of the show, at milliseconds since 1970. The tallies belong to what happened before the events. */
  | { t: 'log'; tallies: MomentTally[]; events: OrderEvent[] }
  /** By line, the levels that its slots have, where they are others than they were. */
  | { t: 'levels'; levels: Record<string, Uint8Array> }
  /** Null: that is too long ago, or was never heard. */
  | { t: 'why'; ask: number; steps: WhyStep[] | null }
  | { t: 'portBytes'; carrier: number; port: number; bytes: Uint8Array }
  | { t: 'closed' };
