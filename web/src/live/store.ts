/** The one home of live values: fed by the connection, read by the screen at the screen's pace. */
import { readBatch, type LineTotals, type TrafficRecord } from '@tawny-signal/core/live/batch';
import type { DeskState, LineHeld, LineState, Slots } from '@tawny-signal/core/live/messages';
import { createRates, type LineRate } from './rates';

export type Topic = 'connection' | 'desk' | 'lines' | 'held' | 'routes' | 'traffic' | 'mappings' | 'standIns';

/** What a mapping did last. */
export interface Fired {
  count: number;
  /** Milliseconds since 1970. */
  at: number;
  heard: number;
  shaped: number;
}

/** Traffic with its line and sender named. */
export interface Passing extends Omit<TrafficRecord, 'lineSlot' | 'senderSlot'> {
  lineId: string;
  /** The mapping or route that sent it. */
  senderId: string | null;
}

/** How many records the browser keeps. */
export const KEPT_TRAFFIC = 100_000;

export interface LiveStore {
  subscribe(topic: Topic, listener: () => void): () => void;
  connected(): boolean;
  desk(): DeskState | null;
  lineState(id: string): LineState | null;
  totals(id: string): LineTotals | null;
  rate(id: string): LineRate;
  fired(mappingId: string): Fired | null;
  /** The oldest first. The list itself is replaced when it changes. */
  traffic(): readonly Passing[];
  /** Records that never came, since there were too many. */
  dropped(): number;
  /** Notes that are down on a line. */
  held(lineId: string): LineHeld;
  /** When a route was cut since it closed a loop, in milliseconds since 1970; null for one that is not. */
  cutAt(routeId: string): number | null;
  cutRoutes(): Readonly<Record<string, number>>;
  standIn(name: string): unknown;
  /** Called with each batch's records as they come. */
  onTraffic(listener: (records: Passing[]) => void): () => void;

  setConnected(connected: boolean): void;
  setDesk(desk: DeskState): void;
  setSlots(slots: Slots): void;
  setLineStates(states: Record<string, LineState>): void;
  setHeld(held: Record<string, LineHeld>): void;
  setCutRoutes(cut: Record<string, number>): void;
  setStandIn(name: string, state: unknown): void;
  takeBatch(bytes: Uint8Array, now: number): void;
  /** Recomputes what fades when nothing comes. */
  tick(now: number): void;
}

const NOTHING_HELD: LineHeld = { in: [], out: [] };

const turnedRound = (slots: Record<string, number>): Map<number, string> =>
  new Map(Object.entries(slots).map(([id, slot]) => [slot, id]));

export function createLiveStore(): LiveStore {
  const listeners = new Map<Topic, Set<() => void>>();
  const trafficListeners = new Set<(records: Passing[]) => void>();
  const totals = new Map<string, LineTotals>();
  const rates = createRates();
  const fired = new Map<string, Fired>();
  const standIns = new Map<string, unknown>();
  let connected = false;
  let desk: DeskState | null = null;
  let lineStates: Record<string, LineState> = {};
  let held: Record<string, LineHeld> = {};
  let cut: Record<string, number> = {};
  let lineIds = new Map<number, string>();
  let senderIds = new Map<number, string>();
  let traffic: Passing[] = [];
  let dropped = 0;

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
    fired: (id) => fired.get(id) ?? null,
    traffic: () => traffic,
    dropped: () => dropped,
    held: (id) => held[id] ?? NOTHING_HELD,
    cutAt: (id) => cut[id] ?? null,
    cutRoutes: () => cut,
    standIn: (name) => standIns.get(name) ?? null,
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
    setSlots(slots) {
      lineIds = turnedRound(slots.lines);
      senderIds = turnedRound(slots.senders);
    },
    setLineStates(states) {
      lineStates = states;
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
    setStandIn(name, state) {
      if (state === null) standIns.delete(name);
      else standIns.set(name, state);
      tell('standIns');
    },
    takeBatch(bytes, now) {
      const batch = readBatch(bytes);
      dropped += batch.dropped;
      for (const line of batch.lines) {
        const id = lineIds.get(line.slot);
        if (id === undefined) continue;
        totals.set(id, line);
        rates.note(id, line, now);
      }
      for (const mapping of batch.mappings) {
        const id = senderIds.get(mapping.slot);
        if (id !== undefined) fired.set(id, mapping);
      }
      if (batch.traffic.length > 0) {
        const records = batch.traffic.map(({ lineSlot, senderSlot, ...rest }): Passing => ({
          ...rest,
          lineId: lineIds.get(lineSlot) ?? '',
          senderId: senderIds.get(senderSlot) ?? null,
        }));
        // Trimmed in large steps, so that one batch does not copy all that is kept.
        const full = traffic.length + records.length > KEPT_TRAFFIC * 1.25;
        const kept = full ? traffic.slice(-Math.max(1, KEPT_TRAFFIC - records.length)) : traffic.slice();
        kept.push(...records);
        traffic = kept;
        for (const listener of trafficListeners) listener(records);
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
