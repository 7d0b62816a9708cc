/**
 * The engine's middle: what a line hears goes through the core engine and out to other lines, at once; what people look at is noted after that
 * and leaves in batches.
 */
import { createEngine, type EngineInput } from '@tawny-signal/core/engine';
import type { InputOf } from '@tawny-signal/core/engine/input';
import { createLedger } from '@tawny-signal/core/ledger';
import type { Hello, ToEngine } from '@tawny-signal/core/link/messages';
import { rangeOf } from '@tawny-signal/core/sends';
import type { Signal } from '@tawny-signal/core/signal';
import { createCarriers } from './carriers.js';
import { createCauses } from './causes.js';
import { createDelivery } from './delivery.js';
import { createLines } from './lines.js';
import type { KeptLive, KeptShow } from './kept-state.js';
import type { LedgerEntry } from './ledger-pipe.js';
import { createLeftBehind } from './left-behind.js';
import type { Outside } from './outside.js';
import { createPlayedShow } from './played-show.js';
import { createReleases } from './releases.js';
import { createReports } from './reports.js';
import { createSenders } from './senders.js';
import { createTallies } from './tallies.js';
import { createTelling } from './telling.js';
import { createTraces } from './traces.js';
import { createWaker } from './waker.js';

export interface Switchboard {
  take(message: ToEngine): void;
  /** Bytes from a carrier's port. */
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
  /** Begins with what an engine before this one kept, and what it still held. */
  begin(show: KeptShow | null, live: KeptLive | null, owed: readonly LedgerEntry[]): void;
  /** A server has connected: this is what it is told first. */
  joined(): Hello;
  /** The server is gone: the ports that it brought are. */
  left(): void;
  /** What a restart goes on from, as it is now; null before there is a show. */
  kept(): { show: KeptShow; live: KeptLive } | null;
  /** Releases what sounds, and closes the lines. @returns resolves when that is done */
  close(): Promise<void>;
}

/** @param instance another for each process */
export function createSwitchboard(outside: Outside, instance: string): Switchboard {
  const engine = createEngine();
  const senders = createSenders();
  const carriers = createCarriers(outside.portBytes);
  const traces = createTraces();
  const tallies = createTallies();
  const causes = createCauses();
  const ledger = createLedger(outside.ledger);
  const leftBehind = createLeftBehind(ledger, outside.ledger);
  const reports = createReports(engine, () => lines, senders, outside);
  const delivery = createDelivery({
    engine,
    lines: () => lines,
    ledger,
    reports,
    tallies,
    causes,
    levelChanged: (line) => telling.levelChanged(line),
  });
  const releases = createReleases(() => lines, ledger, delivery);
  const played = createPlayedShow({
    engine,
    lines: () => lines,
    give,
    releases,
    leftBehind,
    telling: () => telling,
    reports,
    senders,
    tallies,
    outside,
    numbersChanged: () => outside.tell({ t: 'slots', slots: slotsNow() }),
  });
  const telling = createTelling(
    engine,
    () => lines,
    tallies,
    outside,
    () => {
      const mark = played.mark();
      return mark && { showId: mark.showId, armed: played.armed() };
    },
  );
  const waker = createWaker(() => engine.wakeAt(), wake);
  /** What is heard, used again for each signal: a signal is not to cost another object. */
  const heardNow: InputOf<'heard'> = { t: 'heard', line: 0, signal: { kind: 'slot', slot: 1, level: 0 } };
  /** All was let go for Panic; what could sound is released once what left because of it has. */
  let panicked = false;

  const lines = createLines(
    carriers,
    (slot) => ({
      heard: (signal, bytes) => heard(slot, signal, bytes),
      bad: (reason, bytes) => heardBad(slot, reason, bytes),
      gone: () => gone(slot),
      carried: (way, bytes) => carried(slot, way, bytes),
    }),
    {
      state: () => reports.statesChanged(),
      // A driver may be open before its line is in the list.
      open: (slot) => queueMicrotask(() => opened(slot)),
      closing: (line) => releases.known(line),
    },
    outside,
  );

  function heard(slot: number, signal: Signal, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return; // a driver that still had something to say when its line was closed
    const now = performance.now();
    heardNow.line = slot;
    heardNow.signal = signal;
    const outs = engine.take(heardNow, now);
    delivery.send(outs, now);
    telling.events();
    line.totals.inCount++;
    if (signal.kind !== 'slot') line.totals.inBytes += bytes.length; // its frame was counted
    line.changed = true;
    if (line.heldIn.take(signal, now)) reports.heldChanged();
    const seq = reports.note({ cause: 0, lineSlot: slot, direction: 'in', bytes });
    causes.keep(outs.step, seq);
    traces.keep(seq, engine.trace());
    delivery.note(outs);
    follow(outs.panic);
  }

  /** Gives the engine an input that is no signal, and delivers what leaves. */
  function give(input: EngineInput): void {
    const now = performance.now();
    const outs = engine.take(input, now);
    delivery.send(outs, now);
    telling.events();
    delivery.note(outs);
    follow(outs.panic);
  }

  /** Every input ends with this: who looks on is told, what is due is planned, and what signals made of the show is so from now on. */
  function follow(panic: boolean): void {
    panicked ||= panic;
    const live = telling.follow();
    if (live) played.takeLive(live);
    waker.plan();
    if (!panicked) return;
    panicked = false;
    if (!played.armed()) return;
    for (const line of releases.all(played.placed().show)) give({ t: 'lineBack', line });
  }

  function wake(): void {
    const cut = engine.cutRoutes().size;
    give({ t: 'wake' });
    if (engine.cutRoutes().size !== cut) reports.routesChanged();
  }

  function heardBad(slot: number, reason: string, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    line.totals.inBytes += bytes.length;
    reports.bad(line, reason, bytes);
  }

  function gone(slot: number): void {
    if (lines.bySlot[slot]?.heldIn.clear()) reports.heldChanged();
    give({ t: 'lineGone', line: slot });
  }

  function carried(slot: number, way: 'in' | 'out', bytes: number): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    if (way === 'in') line.totals.inBytes += bytes;
    else line.totals.outBytes += bytes;
    line.changed = true;
  }

  /** A line is there, or somebody new is at its other end: first it is released what is still held there. */
  function opened(slot: number): void {
    const line = lines.bySlot[slot];
    if (line) releases.owed(line);
    give({ t: 'lineBack', line: slot });
  }

  const slotsNow = (): Hello['slots'] => ({ lines: Object.fromEntries(lines.slots), senders: senders.all() });

  function take(message: ToEngine): void {
    switch (message.t) {
      case 'show':
        return played.take(message.mark, message.placed, message.before);
      case 'ops':
        return played.takeOps(message.mark, message.ops);
      case 'armed':
        return played.setArmed(message.armed);
      case 'order':
      case 'panic':
      case 'tap':
        return give(message);
      case 'try':
        return give({ t: 'tryMapping', id: message.mappingId, pressed: message.pressed });
      case 'tryLine': {
        const { lineId, pressed, value = rangeOf(message.send)[1] } = message;
        return give({ t: 'trySend', send: { ...message.send, lineId }, pressed, value });
      }
      case 'restoreRoute':
        give({ t: 'openRoute', id: message.routeId });
        return reports.routesChanged();
      case 'why':
        return outside.tell({ t: 'why', ask: message.ask, steps: traces.find(message.seq) });
      case 'done':
        return outside.tell({ t: 'done', ask: message.ask });
      case 'giveShow':
        return outside.tell({ t: 'show', mark: played.mark(), placed: played.placed() });
      case 'offer':
        return carriers.offer(message.carrier, message.ports);
      case 'leave':
        return carriers.leave(message.carrier);
      case 'tellAll':
        return reports.tellAll();
      case 'took':
        return reports.took();
      case 'fail':
        throw new Error('failed on purpose');
    }
  }

  return {
    take,
    begin: played.begin,
    portBytes: (carrier, port, bytes) => carriers.receive(carrier, port, bytes),
    joined() {
      reports.joined();
      return {
        t: 'hello',
        instance,
        mark: played.mark(),
        fresh: played.isFresh(),
        armed: played.armed(),
        live: telling.live(),
        beatAt: telling.beatAt(),
        order: telling.orderSeen(),
        restored: telling.restored,
        levels: telling.levels(),
        slots: slotsNow(),
        lineStates: lines.states(),
        cutRoutes: reports.cutRoutes(),
      };
    },
    left: () => carriers.leaveAll(),
    kept() {
      const mark = played.mark();
      const live = telling.kept();
      return mark && live && { show: { mark, placed: played.placed() }, live };
    },
    close() {
      give({ t: 'armed', armed: false });
      waker.stop();
      telling.stop();
      reports.stop();
      return lines.closeAll();
    },
  };
}
