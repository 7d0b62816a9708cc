/** Stores all live values. The connection writes them, components read them. */
import { bytesOfBase64 } from '@tawny-signal/core/base64';
import { openBatch, type LineTotals } from '@tawny-signal/core/live/batch';
import {
  type DeskState,
  type FromServer,
  type LineHeld,
  type OrderSeen,
  type Indexes,
  type SlotsSeen,
} from '@tawny-signal/core/live/messages';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { setByOf } from '@tawny-signal/core/live/slots';
import { NO_MOTIONS, type MotionsSeen } from '@tawny-signal/core/motion/seen';
import type { Transport } from '@tawny-signal/core/time/transport';
import { hereAfter, NOBODY, type HereNow } from './here-now';
import { lastEventsAfter, NO_EVENTS, type LastEvents } from './last-events';
import { createRates, type LineRate } from './rates';
import { createTraces, type Trace } from './traces';
import { createTrafficLog, type Names, type Passing, type TrafficView } from './traffic-log';

export type Topic =
  | 'connection'
  | 'here'
  | 'order'
  | 'transport'
  | 'motions'
  | 'desk'
  | 'lines'
  | 'held'
  | 'routes'
  | 'traffic'
  | 'mappings'
  | 'standIns'
  | 'levels';

/** What is known of the slots of a line beside the levels that were sent, slot 1 first. */
export interface SlotsKnown {
  /** Null if none were heard. */
  heard: Uint8Array | null;
  /** The ids of the mappings, routes and moments that set the slots; null for nobody, or one that is gone. */
  setBy: readonly (string | null)[];
}

/** What a mapping did last. */
export interface Fired {
  count: number;
  /** Milliseconds since 1970. */
  at: number;
  heard: number;
  shaped: number;
}

export interface LiveStore {
  subscribe(topic: Topic, listener: () => void): () => void;
  connected(): boolean;
  desk(): DeskState | null;
  lineState(id: string): LineState | null;
  totals(id: string): LineTotals | null;
  rate(id: string): LineRate;
  /** The last minute of a line, second by second. */
  trace(id: string): Trace;
  fired(mappingId: string): Fired | null;
  /** The traffic so far. Returns a new view when more passes. */
  traffic(): TrafficView;
  lastEvents(): LastEvents;
  /** The number of records that were dropped because there were too many. */
  dropped(): number;
  /** Notes that are down on a line. */
  held(lineId: string): LineHeld;
  /** When a route was cut because it closed a loop, in milliseconds since 1970; null if it is not cut. */
  cutAt(routeId: string): number | null;
  /** The last known state of the running order; null if unknown. */
  order(): OrderSeen | null;
  /** The last known tempo; null if unknown. */
  transport(): Transport | null;
  /** Which motions run, and what they make. Another object each time. */
  motions(): MotionsSeen;
  /** The pages that are connected, by name, and which of them is this one. Another object after each change. */
  here(): HereNow;
  cutRoutes(): Readonly<Record<string, number>>;
  standIn(name: string): unknown;
  /** The last levels of a line, slot 1 first; null if nothing was sent on it. Another array after each change. */
  levels(lineId: string): Uint8Array | null;
  /** A number that is different after each change of any level. */
  levelsAt(): number;
  /** What else is known of the slots of a line: the levels that were heard, and the id of what set each; null if nothing is. */
  slots(lineId: string): SlotsKnown | null;
  /** Calls `listener` with the records of each batch. */
  onTraffic(listener: (records: Passing[]) => void): () => void;

  setConnected(connected: boolean): void;
  setDesk(desk: DeskState): void;
  /** @param more whether the senders are those that are new */
  setIndexes(indexes: Indexes, more: boolean): void;
  setLineStates(states: Record<string, LineState>): void;
  setHeld(held: Record<string, LineHeld>): void;
  setCutRoutes(cut: Record<string, number>): void;
  setStandIn(name: string, state: unknown): void;
  setHere(told: Extract<FromServer, { t: 'here' }>): void;
  /** The number of this page's connection. */
  setMe(me: number): void;
  setSlots(slots: Record<string, SlotsSeen>): void;
  /** @param levels in base64 */
  setLevels(levels: Record<string, string>): void;
  setMotions(motions: MotionsSeen): void;
  setTransport(transport: Transport): void;
  setOrder(order: OrderSeen): void;
  takeBatch(bytes: Uint8Array, now: number): void;
  /** Updates values that fall while nothing arrives. */
  tick(now: number): void;
}

const NOTHING_HELD: LineHeld = { in: [], out: [] };

const turnedRound = (indexes: Record<string, number>): Map<number, string> =>
  new Map(Object.entries(indexes).map(([id, index]) => [index, id]));

export function createLiveStore(): LiveStore {
  const listeners = new Map<Topic, Set<() => void>>();
  const trafficListeners = new Set<(records: Passing[]) => void>();
  const totals = new Map<string, LineTotals>();
  const rates = createRates();
  const traces = createTraces();
  const fired = new Map<string, Fired>();
  const standIns = new Map<string, unknown>();
  const levels = new Map<string, Uint8Array>();
  let levelsAt = 0;
  let here = NOBODY;
  const slots = new Map<string, SlotsKnown>();
  let connected = false;
  let desk: DeskState | null = null;
  let lineStates: Record<string, LineState> = {};
  let held: Record<string, LineHeld> = {};
  let cut: Record<string, number> = {};
  let names: Names = { lines: new Map(), senders: new Map() };
  const traffic = createTrafficLog();
  let events = NO_EVENTS;
  let dropped = 0;
  let motions = NO_MOTIONS;
  let transport: Transport | null = null;
  let order: OrderSeen | null = null;

  function tell(topic: Topic): void {
    for (const listener of listeners.get(topic) ?? []) listener();
  }

  return {
    subscribe(topic, listener) {
      const set = listeners.get(topic) ?? new Set();
      listeners.set(topic, set.add(listener));
      return () => set.delete(listener);
    },
    connected: () => connected,
    desk: () => desk,
    lineState: (id) => lineStates[id] ?? null,
    totals: (id) => totals.get(id) ?? null,
    rate: (id) => rates.of(id),
    trace: (id) => traces.of(id, performance.now()),
    fired: (id) => fired.get(id) ?? null,
    traffic: () => traffic.view(),
    lastEvents: () => events,
    dropped: () => dropped,
    held: (id) => held[id] ?? NOTHING_HELD,
    cutAt: (id) => cut[id] ?? null,
    cutRoutes: () => cut,
    motions: () => motions,
    transport: () => transport,
    order: () => order,
    here: () => here,
    standIn: (name) => standIns.get(name) ?? null,
    levels: (lineId) => levels.get(lineId) ?? null,
    levelsAt: () => levelsAt,
    slots: (lineId) => slots.get(lineId) ?? null,
    onTraffic(listener) {
      trafficListeners.add(listener);
      return () => trafficListeners.delete(listener);
    },

    setConnected(next) {
      connected = next;
      if (!next) {
        lineStates = {};
        standIns.clear();
        tell('lines');
        tell('standIns');
      }
      tell('connection');
    },
    setDesk(next) {
      desk = next;
      tell('desk');
    },
    setIndexes(indexes, more) {
      const senders = new Map(more ? names.senders : []);
      for (const [index, id] of turnedRound(indexes.senders)) senders.set(index, id);
      names = { lines: turnedRound(indexes.lines), senders };
    },
    setLineStates(states) {
      lineStates = states;
      for (const [id, { state }] of Object.entries(states))
        traces.opened(id, state === 'open', performance.now());
      tell('lines');
    },
    setHeld(next) {
      held = next;
      tell('held');
    },
    setCutRoutes(next) {
      cut = next;
      tell('routes');
    },
    setHere(told) {
      here = hereAfter(here, told);
      tell('here');
    },
    setMe(me) {
      here = { ...here, me };
      tell('here');
    },
    setStandIn(name, state) {
      if (state === null) standIns.delete(name);
      else standIns.set(name, state);
      tell('standIns');
    },
    setLevels(next) {
      for (const [lineId, text] of Object.entries(next))
        levels.set(lineId, bytesOfBase64(text) ?? new Uint8Array());
      levelsAt++;
      tell('levels');
    },
    setSlots(next) {
      for (const [lineId, { heard, setBy }] of Object.entries(next))
        slots.set(lineId, {
          heard: heard === undefined ? null : bytesOfBase64(heard),
          setBy:
            setBy === undefined
              ? []
              : setByOf(setBy).map((n) => (n === null ? null : (names.senders.get(n) ?? null))),
        });
      tell('levels');
    },
    setOrder(next) {
      order = next;
      tell('order');
    },
    setMotions(next) {
      motions = next;
      tell('motions');
    },
    setTransport(next) {
      transport = next;
      tell('transport');
    },
    takeBatch(bytes, now) {
      const batch = openBatch(bytes);
      // After a reconnection, the browser has already seen what passed last.
      if (batch.past && traffic.view().end > 0) return;
      dropped += batch.dropped;
      for (const line of batch.lines) {
        const id = names.lines.get(line.index);
        if (id === undefined) continue;
        totals.set(id, line);
        rates.note(id, line, now);
        traces.note(id, line, now);
      }
      for (const mapping of batch.mappings) {
        const id = names.senders.get(mapping.index);
        if (id !== undefined) fired.set(id, mapping);
      }
      if (batch.records.length > 0) {
        const before = traffic.view().end;
        traffic.add(batch, bytes, names);
        const view = traffic.view();
        events = lastEventsAfter(events, batch, (n) => view.at(before + n));
        if (trafficListeners.size > 0 && !batch.past) {
          const records = batch.records.map((_, at) => view.at(before + at));
          for (const listener of trafficListeners) listener(records);
        }
        tell('traffic');
      }
      if (batch.lines.length > 0) tell('lines');
      if (batch.mappings.length > 0) tell('mappings');
    },
    tick(now) {
      if (rates.fade(now)) tell('lines');
    },
  };
}
