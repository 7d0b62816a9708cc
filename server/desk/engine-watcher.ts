/** What the engine tells the server, and the clock by which it is told. */
import type { OrderEvent } from '@tawny-signal/core/cues/order';
import type { PlacedShow } from '@tawny-signal/core/edits';
import type { Before, Hello, MomentTally, ShowMark } from '@tawny-signal/core/link/messages';
import type { LineHeld, OrderSeen, Indexes, SlotsSeen } from '@tawny-signal/core/live/messages';
import type { LineState } from '@tawny-signal/core/live/line-state';
import type { MotionsSeen } from '@tawny-signal/core/motion/seen';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Transport } from '@tawny-signal/core/time/transport';

/** The show of the server. */
export interface Playing {
  mark: ShowMark;
  placed: PlacedShow;
  /** Returns the state for an engine that has not played the show yet. */
  before(): Before;
}

/** What the engine tells, for whoever passes it on to people. */
export interface EngineWatcher {
  /** The engine is connected. @param again true if it is a different process than before */
  joined(hello: Hello, again: boolean): void;
  /** The engine is disconnected. What is known of it is out of date. */
  left(): void;
  /** The engine has sent the show that it plays, as it was asked to. */
  show(mark: ShowMark, placed: PlacedShow): void;
  batch(bytes: Uint8Array): void;
  indexes(indexes: Indexes): void;
  lineStates(states: Record<string, LineState>): void;
  held(held: Record<string, LineHeld>): void;
  cutRoutes(cut: Record<string, number>): void;
  /** Signals have switched banks. */
  live(live: LiveShow): void;
  transport(transport: Transport): void;
  motions(motions: MotionsSeen): void;
  order(order: OrderSeen): void;
  log(tallies: MomentTally[], events: OrderEvent[]): void;
  /** The levels of these lines have changed. */
  levels(levels: Record<string, string>): void;
  /** What else is known of the slots of these lines has changed. */
  slots(slots: Record<string, SlotsSeen>): void;
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
}

/** Converts times of the engine's clock to those of the server. @param now the current time of the engine's clock */
export function onOurClock(events: readonly OrderEvent[], now: number): OrderEvent[] {
  const behind = Date.now() - now;
  return events.map((event) => ({ ...event, at: event.at + behind }));
}
