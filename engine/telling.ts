/** Tells the server about changes of the running order, banks, tempo and levels, and about the log; and saves that state for a restart. */
import type { OrderEvent, OrderState } from '@tawny-signal/core/cues/order';
import { AT_THE_END } from '@tawny-signal/core/cues/order';
import type { Engine } from '@tawny-signal/core/engine';
import { NO_ORDER, type OrderSeen } from '@tawny-signal/core/live/messages';
import type { MomentTally, Restored } from '@tawny-signal/core/link/messages';
import { movedOn } from '@tawny-signal/core/motion/kept';
import type { LiveShow } from '@tawny-signal/core/show/live';
import { OWN } from '@tawny-signal/core/time/position';
import { keptPosition, transportOf, type Transport } from '@tawny-signal/core/time/transport';
import { base64Of } from '@tawny-signal/core/base64';
import type { KeptLive } from './kept-state.js';
import type { Lines } from './lines.js';
import type { Outside } from './outside.js';
import type { SlotsWatch } from './slots-seen.js';
import type { Tallies } from './tallies.js';
import { ORIGIN } from './origin.js';

/** The shortest time in ms between two reports of levels, and between two saves. The first change is reported at once. */
const KEEP_MS = 250;
/** How often the counts for the log are sent, in ms. */
const LOG_MS = 1000;
/** The most entries that are kept for the log while no server is connected. */
const MOST_WAITING = 10_000;

export interface Telling {
  /** Reports what the last input changed. @returns the banks that are on, if it has changed them; else null */
  follow(): LiveShow | null;
  /** The level of a slot of this line has changed. */
  levelChanged(line: number): void;
  /** A slot of this line was heard. */
  slotHeard(line: number, slot: number, level: number): void;
  /** Sends the events of the running order. Counts that were made before are sent with them, as earlier. */
  events(): void;
  /** Something that is saved for a restart has changed. */
  changed(): void;
  /** What was running when an earlier engine ended; null once somebody has gone on. */
  restored: Restored | null;
  orderSeen(): OrderSeen;
  live(): LiveShow;
  transport(): Transport;
  /** Levels in base64, by line. */
  levels(): Record<string, string>;
  /** A server has connected: sends it what happened meanwhile. */
  joined(): void;
  /** Returns the current state, to restart from; null before a show is loaded. */
  kept(): KeptLive | null;
  /** Sends the last reports. */
  stop(): void;
}

/** Converts monotonic ms to milliseconds since 1970. */
const epoch = (at: number): number => ORIGIN + at;

function seen(order: OrderState): OrderSeen {
  return {
    standingBy: order.standingBy,
    running: order.running.map((one) => ({ ...one, since: epoch(one.since), endsAt: epoch(one.endsAt) })),
    following: order.following.map(({ id, at }) => ({ id, at: epoch(at) })),
    heldAt: order.heldAt === null ? null : epoch(order.heldAt),
    called: order.called && { ...order.called, at: epoch(order.called.at) },
    lastCalls: order.lastCalls.map(({ id, at }) => ({ id, at: epoch(at) })),
    jumpedFrom: order.jumpedFrom,
  };
}

/** @param about returns the show that is played, and whether it is armed; null before there is one */
export function createTelling(
  engine: Engine,
  lines: () => Lines,
  tallies: Tallies,
  outside: Outside,
  about: () => { showId: string; armed: boolean } | null,
  slots: SlotsWatch,
): Telling {
  let banksOn = engine.banksOn();
  let tempo = engine.tempo.tempo();
  let tempoState = engine.tempo.state();
  let position = engine.position.state();
  /** When the transport was told last. */
  let toldAt = -Infinity;
  let orderNow: OrderState | null = null;
  let orderSeen: OrderSeen = NO_ORDER;
  let toKeep = false;
  let keeping: NodeJS.Timeout | null = null;
  let keptAt = -Infinity;
  /** Lines whose levels have to be reported. */
  const levelsChanged = new Set<number>();
  const levels: Record<string, string> = {};
  const waiting: { tallies: MomentTally[]; events: OrderEvent[] } = { tallies: [], events: [] };

  const live = (): LiveShow => ({ banksOn: [...engine.banksOn()] });
  const transport = (): Transport => transportOf(engine.tempo, engine.position, performance.now(), ORIGIN);

  function keptTransport(): Transport {
    const all = transport();
    return {
      ...all,
      position: { ...all.position, ...keptPosition(engine.position, performance.now(), ORIGIN) },
    };
  }

  /** Returns what stands by, to restart from. */
  const standingBy = (): string | null => orderSeen.standingBy ?? (orderSeen.called ? AT_THE_END : null);

  function log(events: OrderEvent[]): void {
    const taken = tallies.drain();
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
    for (const index of levelsChanged) {
      const line = lines().byIndex[index];
      if (line) changed[line.id] = levels[line.id] = base64Of(engine.levels(index));
    }
    levelsChanged.clear();
    toKeep = true;
    return changed;
  }

  /** Plans a report and a save, after the output of the current input was sent. */
  function keepSoon(): void {
    keeping ??= setTimeout(keep, Math.max(0, keptAt + KEEP_MS - performance.now()));
  }

  function keep(): void {
    if (keeping) clearTimeout(keeping);
    keeping = null;
    keptAt = performance.now();
    const changed = collectLevels();
    if (changed) outside.tell({ t: 'levels', levels: changed });
    const seenSlots = slots.drain((line) => lines().byIndex[line]?.id);
    if (seenSlots) outside.tell({ t: 'slots', slots: seenSlots });
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
        transport: keptTransport(),
        running,
        levels,
        motions: movedOn(engine.motions.kept(), ORIGIN),
      }
    );
  }

  const logging = setInterval(() => log([]), LOG_MS);
  /** A position that runs is told and kept even if nothing is heard. */
  const running = setInterval(followTransport, KEEP_MS);

  function followOrder(): void {
    const order = engine.orderState();
    if (order === orderNow) return;
    orderNow = order;
    orderSeen = seen(order);
    toKeep = true;
    keepSoon();
    outside.tell({ t: 'order', order: orderSeen, showId: about()?.showId ?? '' });
  }

  /** Tells at once what somebody decided or what turned, and now and then how a position runs. */
  function followTransport(): void {
    const nextTempo = engine.tempo.tempo();
    const decided = engine.tempo.state();
    const state = engine.position.state();
    const runs = engine.position.motion().speed !== 0;
    const followed = decided.counts !== OWN;
    const turned = state !== position || decided !== tempoState || (nextTempo !== tempo && !followed);
    const moves = runs || nextTempo !== tempo;
    if (!turned && !(moves && performance.now() - toldAt >= KEEP_MS)) return;
    tempo = nextTempo;
    tempoState = decided;
    position = state;
    toldAt = performance.now();
    toKeep = true;
    keepSoon();
    outside.tell({ t: 'transport', transport: transport() });
  }

  const telling: Telling = {
    restored: null,
    follow() {
      followOrder();
      followTransport();
      const on = engine.banksOn();
      if (on === banksOn) return null;
      banksOn = on;
      toKeep = true;
      keepSoon();
      const state = live();
      outside.tell({ t: 'live', live: state, showId: about()?.showId ?? '' });
      return state;
    },
    levelChanged(line) {
      levelsChanged.add(line);
      keepSoon();
    },
    slotHeard(line, slot, level) {
      slots.heard(line, slot, level);
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
    transport,
    levels() {
      collectLevels();
      return levels;
    },
    joined() {
      slots.tellAll();
      keepSoon();
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
      clearInterval(running);
      log([]);
      toKeep = true;
      keep();
    },
  };
  return telling;
}
