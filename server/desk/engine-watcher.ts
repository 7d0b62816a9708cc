/** What the engine tells the server, and the clock by which it is told. */
import type { OrderEvent } from '@tawny-signal/core/cues/order';
import type { PlacedShow } from '@tawny-signal/core/edits';
import type { Before, Hello, MomentTally, ShowMark } from '@tawny-signal/core/link/messages';
import type { LineHeld, LineState, OrderSeen, Indexes } from '@tawny-signal/core/live/messages';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Transport } from '@tawny-signal/core/time/transport';

/** The show as the server has it. */
export interface Playing {
  mark: ShowMark;
  placed: PlacedShow;
  /** What an engine goes on from that has not played it yet. */
  before(): Before;
}

/** What the engine tells, for whoever passes it on to people. */
export interface EngineWatcher {
  /** The link is there, and this is how things are. @param again another engine than the one that was known */
  joined(hello: Hello, again: boolean): void;
  /** The link is gone: what was known last is old. */
  left(): void;
  /** The show that the engine plays, which was asked for. */
  show(mark: ShowMark, placed: PlacedShow): void;
  batch(bytes: Uint8Array): void;
  indexes(indexes: Indexes): void;
  lineStates(states: Record<string, LineState>): void;
  held(held: Record<string, LineHeld>): void;
  cutRoutes(cut: Record<string, number>): void;
  /** Signals changed which banks are on. */
  live(live: LiveShow): void;
  transport(transport: Transport): void;
  order(order: OrderSeen): void;
  log(tallies: MomentTally[], events: OrderEvent[]): void;
  /** The levels of lines are others than they were. */
  levels(): void;
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
}

/** When it happened by the clock of the log, which is the server's. @param now what the engine's clock says now */
export function onOurClock(events: readonly OrderEvent[], now: number): OrderEvent[] {
  const behind = Date.now() - now;
  return events.map((event) => ({ ...event, at: event.at + behind }));
}
