/**
 * Connects lines, the core engine and the web server. A signal goes from its line through the core engine to other lines at once; what people
 * look at is recorded after that and is sent to the server in batches.
 */
import type { EngineInput } from '@tawny-signal/core/engine';
import type { InputOf } from '@tawny-signal/core/engine/input';
import { createLedger } from '@tawny-signal/core/ledger';
import type { Hello, ToEngine } from '@tawny-signal/core/link/messages';
import type { Signal } from '@tawny-signal/core/signal';
import { createCarriers } from './carriers.js';
import { createCauses } from './causes.js';
import { createDelivery } from './delivery.js';
import { createLines } from './lines.js';
import type { KeptLive, KeptShow } from './kept-state.js';
import type { LedgerEntry } from './ledger-pipe.js';
import { createLeftBehind } from './left-behind.js';
import type { Outside } from './outside.js';
import { createNotes } from './notes.js';
import { createPlayedShow } from './played-show.js';
import { createPressed } from './pressed.js';
import { createReleases } from './releases.js';
import { createReports } from './reports.js';
import { nothingReady } from './spare.js';
import { createSlotsWatch } from './slots-seen.js';
import { createTallies } from './tallies.js';
import { createMotionsTold } from './motions-told.js';
import { createTelling } from './telling.js';
import { createTraces } from './traces.js';
import { triedSend } from './tried-send.js';
import { createWaitingMessages } from './waiting-messages.js';
import { createWaker } from './waker.js';

export interface Switchboard {
  /** @param json the message as it came, if it came as text */
  take(message: ToEngine, json?: string): void;
  /** Takes bytes from a port that a browser or stand-in carries. @param ageMs how long ago they arrived there */
  portBytes(carrier: number, port: number, bytes: Uint8Array, ageMs?: number): void;
  /** Starts from the files and the ledger of the engine process before this one. */
  begin(show: KeptShow | null, live: KeptLive | null, owed: readonly LedgerEntry[]): void;
  /** A server has connected. @returns what it is told first */
  joined(): Hello;
  /** The server is gone, and the ports that it carried with it. */
  left(): void;
  /** Returns the current state, to restart from; null before a show is loaded. */
  kept(): { show: KeptShow; live: KeptLive } | null;
  /** Releases what sounds, and closes the lines. Resolves when that is done. */
  close(): Promise<void>;
}

/** @param instance identifies this process. @param ready may have compiled rows of the show that is loaded first */
export function createSwitchboard(outside: Outside, instance: string, ready = nothingReady()): Switchboard {
  const { engine, senders } = ready;
  const carriers = createCarriers(outside.portBytes);
  const traces = createTraces();
  const tallies = createTallies();
  const causes = createCauses();
  const ledger = createLedger(outside.ledger);
  const pressed = createPressed(outside, (input) => give(input));
  const notes = createNotes(engine, () => played.mark()?.showId ?? null, pressed, outside.ledger);
  const leftBehind = createLeftBehind(ledger, outside.ledger);
  const reports = createReports(engine, () => lines, senders, ledger, outside);
  const delivery = createDelivery({
    engine,
    lines: () => lines,
    ledger,
    reports,
    tallies,
    causes,
    levelChanged: (line) => telling.levelChanged(line),
    slotSent: (line, slot, sender) => slots.sent(line, slot, senders.indexOf(sender)),
  });
  const slots = createSlotsWatch();
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
    compiled: () => waiting.takeAll(),
    numbersChanged(more) {
      // A server that comes later is told all of them.
      if (outside.isHeard()) outside.tell({ t: 'indexes', indexes: { ...lineNumbers(), senders: more } });
    },
  });
  const motionsTold = createMotionsTold(engine, outside);
  const telling = createTelling(
    engine,
    () => lines,
    tallies,
    outside,
    () => {
      const mark = played.mark();
      return mark && { showId: mark.showId, armed: played.armed() };
    },
    slots,
  );
  const waker = createWaker(() => engine.wakeAt(), wake);
  /** Reused for each signal, to allocate nothing on its path. */
  const heardNow: InputOf<'heard'> = {
    t: 'heard',
    line: 0,
    signal: { kind: 'slot', slot: 1, level: 0 },
    at: 0,
  };
  /** A Panic was processed. Everything else that could sound is released after its output was sent. */
  let panicked = false;

  const lines = createLines(
    carriers,
    (index) => ({
      heard: (signal, bytes, arrivedAt, note) => heard(index, signal, bytes, arrivedAt, note),
      bad: (reason, bytes) => heardBad(index, reason, bytes),
      gone: () => gone(index),
      carried: (way, bytes) => carried(index, way, bytes),
    }),
    {
      state: () => reports.statesChanged(),
      // A driver may be open before its line is in the list.
      open: (index) => queueMicrotask(() => opened(index)),
      closing: (line) => releases.known(line),
    },
    outside,
  );

  function heard(index: number, signal: Signal, bytes: Uint8Array, at: number, reason?: string): void {
    const line = lines.byIndex[index];
    if (!line) return; // the line has just been closed
    const now = performance.now();
    heardNow.line = index;
    heardNow.signal = signal;
    heardNow.at = at;
    const outs = engine.take(heardNow, now);
    notes.look();
    delivery.send(outs, now);
    telling.events();
    line.totals.inCount++;
    if (signal.kind === 'slot') telling.slotHeard(index, signal.slot, signal.level);
    else line.totals.inBytes += bytes.length; // a slot's frame was counted
    line.changed = true;
    if (line.heldIn.take(signal, now)) reports.heldChanged();
    const seq = reports.note({ cause: 0, lineIndex: index, direction: 'in', bytes, at, reason });
    causes.keep(outs.step, seq);
    traces.keep(seq, engine.trace());
    delivery.note(outs);
    follow(outs.panic);
  }

  /** Passes an input other than a signal to the engine, and sends the output. */
  function give(input: EngineInput): void {
    const now = performance.now();
    const outs = engine.take(input, now);
    notes.look();
    delivery.send(outs, now);
    telling.events();
    delivery.note(outs);
    follow(outs.panic);
  }

  /** Ends each input: reports changes to the server, plans the next wake, and completes Panic. */
  function follow(panic: boolean): void {
    panicked ||= panic;
    if (motionsTold.follow()) telling.changed();
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

  function heardBad(index: number, reason: string, bytes: Uint8Array): void {
    const line = lines.byIndex[index];
    if (line) reports.bad(line, reason, bytes);
  }

  function gone(index: number): void {
    if (lines.byIndex[index]?.heldIn.clear()) reports.heldChanged();
    give({ t: 'lineGone', line: index });
  }

  function carried(index: number, way: 'in' | 'out', bytes: number): void {
    const line = lines.byIndex[index];
    if (!line) return;
    if (way === 'in') line.totals.inBytes += bytes;
    else line.totals.outBytes += bytes;
    line.changed = true;
  }

  /** A line has opened, or a new receiver is connected to it: releases what is still held there, then sends the state of lamps. */
  function opened(index: number): void {
    const line = lines.byIndex[index];
    if (line) releases.owed(line);
    give({ t: 'lineBack', line: index });
  }

  const lineNumbers = (): Pick<Hello['indexes'], 'lines'> => ({ lines: Object.fromEntries(lines.indexes) });

  const waiting = createWaitingMessages(() => played.isCompiling(), take);

  function take(message: ToEngine, json?: string): void {
    if (waiting.keep(message, json)) return;
    switch (message.t) {
      case 'rows':
        return played.takeRows(message, json ?? JSON.stringify(message));
      case 'show':
        return played.take(message, json ?? JSON.stringify(message));
      case 'ops':
        return played.takeOps(message, json ?? JSON.stringify(message));
      case 'armed':
        return played.setArmed(message.armed);
      case 'order':
        return pressed.take(message);
      case 'panic':
      case 'tap':
      case 'tempo':
      case 'tempoSource':
      case 'position':
      case 'motion':
        return give(message);
      case 'watchMotions':
        return motionsTold.watch(message.on);
      case 'try':
        return give({ t: 'tryMapping', id: message.mappingId, pressed: message.pressed });
      case 'tryLine':
        return give(triedSend(message));
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
    begin: (show, kept, owed) => notes.begin(owed, kept, (left) => played.begin(show, left)),
    portBytes: (carrier, port, bytes, ageMs) => carriers.receive(carrier, port, bytes, ageMs),
    joined() {
      reports.joined();
      return {
        t: 'hello',
        instance,
        mark: played.mark(),
        fresh: played.isFresh(),
        armed: played.armed(),
        live: telling.live(),
        transport: telling.transport(),
        order: telling.orderSeen(),
        motions: motionsTold.seen(),
        restored: telling.restored,
        levels: telling.levels(),
        indexes: { ...lineNumbers(), senders: senders.all() },
        lineStates: lines.states(),
        cutRoutes: reports.cutRoutes(),
      };
    },
    left() {
      motionsTold.watch(false);
      carriers.leaveAll();
    },
    kept() {
      const mark = played.mark();
      const live = telling.kept();
      return mark && live && { show: { mark, placed: played.placed() }, live };
    },
    close() {
      give({ t: 'armed', armed: false });
      for (const part of [waker, played, notes, telling, motionsTold, reports]) part.stop();
      return lines.closeAll();
    },
  };
}
