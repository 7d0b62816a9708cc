/** Tells the server how the engine is whenever that changes, and keeps it for a restart: the running order, banks, tempo, levels and the log. */
import type { OrderEvent, OrderState } from '@tawny-signal/core/cues/runner';
import { AT_THE_END } from '@tawny-signal/core/cues/runner';
import type { Engine } from '@tawny-signal/core/engine';
import { NO_ORDER, type OrderSeen } from '@tawny-signal/core/live/messages';
import type { MomentTally, Restored } from '@tawny-signal/core/link/messages';
import type { LiveShow } from '@tawny-signal/core/show/live';
import { base64Of } from '@tawny-signal/core/show/midi-file';
import type { KeptLive } from './kept-state.js';
import type { Lines } from './lines.js';
import type { Outside } from './outside.js';
import type { Tallies } from './tallies.js';

/** How often at most levels are told, and what a restart goes on from is kept: the first change at once. */
const KEEP_MS = 250;
/** How often what was counted for the log is told. */
const LOG_MS = 1000;
/** What happened while no server is there, kept for the next one. */
const MOST_WAITING = 10_000;

export interface Telling {
  /** Tells what the last input changed. @returns the banks and the tempo if signals changed them, else null */
  follow(): LiveShow | null;
  /** A slot of this line has another level. */
  levelChanged(slot: number): void;
  /** What happened to the running order; what was counted until then was before it. */
  events(): void;
  /** Something that is kept for a restart has changed. */
  changed(): void;
  /** What ran when the engine ended before; until somebody goes on. */
  restored: Restored | null;
  orderSeen(): OrderSeen;
  live(): LiveShow;
  /** When the tempo began, in milliseconds since 1970. */
  beatAt(): number;
  /** By line, in base64. */
  levels(): Record<string, string>;
  /** A server has connected: it gets what happened meanwhile. */
  joined(): void;
  /** What a restart goes on from, as it is now; null before there is a show. */
  kept(): KeptLive | null;
  /** Says the last. */
  stop(): void;
}

/** Monotonic ms as milliseconds since 1970. */
const epoch = (at: number): number => performance.timeOrigin + at;

function seen(order: OrderState): OrderSeen {
  return {
    standingBy: order.standingBy,
    running: order.running.map((one) => ({ ...one, since: epoch(one.since), endsAt: epoch(one.endsAt) })),
    following: order.following.map(({ id, at }) => ({ id, at: epoch(at) })),
    heldAt: order.heldAt === null ? null : epoch(order.heldAt),
    called: order.called && { ...order.called, at: epoch(order.called.at) },
  };
}

/** @param about the show that is played, and whether it is armed; null before there is one */
export function createTelling(
  engine: Engine,
  lines: () => Lines,
  tallies: Tallies,
  outside: Outside,
  about: () => { showId: string; armed: boolean } | null,
): Telling {
  let banksOn = engine.banksOn();
  let tempo = engine.tempo();
  let orderNow: OrderState | null = null;
  let orderSeen: OrderSeen = NO_ORDER;
  let toKeep = false;
  let keeping: NodeJS.Timeout | null = null;
  let keptAt = -Infinity;
  /** Lines whose levels are to be told. */
  const levelsChanged = new Set<number>();
  const levels: Record<string, string> = {};
  const waiting: { tallies: MomentTally[]; events: OrderEvent[] } = { tallies: [], events: [] };

  const live = (): LiveShow => ({ banksOn: [...engine.banksOn()], bpm: engine.tempo().bpm });

  /** Where the running order stands, to restart into. */
  const standingBy = (): string | null => orderSeen.standingBy ?? (orderSeen.called ? AT_THE_END : null);

  function log(events: OrderEvent[]): void {
    const taken = tallies.take();
    if (taken.length + events.length === 0) return;
    if (outside.isHeard()) return outside.tell({ t: 'log', tallies: taken, events, now: performance.now() });
    if (waiting.tallies.length + waiting.events.length > MOST_WAITING) return;
    waiting.tallies.push(...taken);
    waiting.events.push(...events);
  }

  /** @returns the levels that changed since the last call; null for none */
  function collectLevels(): Record<string, string> | null {
    if (levelsChanged.size === 0) return null;
    const changed: Record<string, string> = {};
    for (const slot of levelsChanged) {
      const line = lines().bySlot[slot];
      if (line) changed[line.id] = levels[line.id] = base64Of(engine.levels(slot));
    }
    levelsChanged.clear();
    toKeep = true;
    return changed;
  }

  /** Something is to be told or kept: once what this input made leave has left. */
  function keepSoon(): void {
    keeping ??= setTimeout(keep, Math.max(0, keptAt + KEEP_MS - performance.now()));
  }

  function keep(): void {
    if (keeping) clearTimeout(keeping);
    keeping = null;
    keptAt = performance.now();
    const changed = collectLevels();
    if (changed) outside.tell({ t: 'levels', levels: changed });
    const kept = toKeep ? keptNow() : null;
    if (!kept) return;
    toKeep = false;
    outside.keeper.live(kept);
  }

  function keptNow(): KeptLive | null {
    const played = about();
    const running = orderSeen.running.map(({ id }) => id);
    return (
      played && {
        ...played,
        live: live(),
        standingBy: standingBy(),
        called: orderSeen.called,
        beatAt: epoch(engine.tempo().since),
        running,
        levels,
      }
    );
  }

  const logging = setInterval(() => log([]), LOG_MS);

  function followOrder(): void {
    const order = engine.orderState();
    if (order === orderNow) return;
    orderNow = order;
    orderSeen = seen(order);
    toKeep = true;
    keepSoon();
    outside.tell({ t: 'order', order: orderSeen });
  }

  const telling: Telling = {
    restored: null,
    follow() {
      followOrder();
      const on = engine.banksOn();
      const now = engine.tempo();
      if (on === banksOn && now === tempo) return null;
      banksOn = on;
      tempo = now;
      toKeep = true;
      keepSoon();
      const state = live();
      outside.tell({ t: 'live', live: state, beatAt: epoch(tempo.since) });
      return state;
    },
    levelChanged(slot) {
      levelsChanged.add(slot);
      keepSoon();
    },
    events() {
      const events = engine.orderEvents();
      if (events.length === 0) return;
      telling.restored = null;
      log(events);
    },
    changed() {
      toKeep = true;
      keepSoon();
    },
    orderSeen: () => orderSeen,
    live,
    beatAt: () => epoch(engine.tempo().since),
    levels() {
      collectLevels();
      return levels;
    },
    joined() {
      const { tallies: counted, events } = waiting;
      if (counted.length + events.length === 0) return;
      outside.tell({ t: 'log', tallies: counted, events, now: performance.now() });
      waiting.tallies = [];
      waiting.events = [];
    },
    kept() {
      collectLevels();
      return keptNow();
    },
    stop() {
      clearInterval(logging);
      log([]);
      toKeep = true;
      keep();
    },
  };
  return telling;
}
