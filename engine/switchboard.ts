/**
 * The engine's middle: what a line hears goes through the core engine and out to other lines,
 * at once; what people look at is noted after that and leaves in batches.
 */
import { encodeSignal } from '@tawny-signal/core/bytes';
import { couldSound } from '@tawny-signal/core/could-sound';
import { AT_THE_END } from '@tawny-signal/core/cues/runner';
import { applyOps, positionOf, type Op, type PlacedShow, type TableName } from '@tawny-signal/core/edits';
import { encodeSlot } from '@tawny-signal/core/dmx/slot';
import { createEngine, type Outs } from '@tawny-signal/core/engine';
import { createLedger } from '@tawny-signal/core/ledger';
import type { Before, Hello, Restored, ShowMark, ToEngine } from '@tawny-signal/core/link/messages';
import { byHand } from '@tawny-signal/core/mapping/heard';
import { compileSend, rangeOf } from '@tawny-signal/core/sends';
import { withLive } from '@tawny-signal/core/show/live';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { bytesOfBase64 } from '@tawny-signal/core/show/midi-file';
import { emptyShow } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import { createCarriers } from './carriers.js';
import { createCauses } from './causes.js';
import { createDelays, type Delayed } from './delays.js';
import { createLines, type OpenLine } from './lines.js';
import { createKeptBytes } from './kept-bytes.js';
import type { KeptLive, KeptShow } from './kept-state.js';
import type { LedgerEntry } from './ledger-pipe.js';
import { createLeftBehind } from './left-behind.js';
import type { Outside } from './outside.js';
import { createReports } from './reports.js';
import { createSenders } from './senders.js';
import { createTallies } from './tallies.js';
import { createTelling } from './telling.js';
import { createTraces } from './traces.js';

type TryLine = Extract<ToEngine, { t: 'tryLine' }>;

/** Above this, the show is loaded whole. */
const MOST_REPLACED = 16;
const DELAYS_FULL = 'So much waits for the delay of this line that this was not kept: it is not sent.';
/** Tables that only the running order reads. */
const OF_THE_ORDER: readonly TableName[] = ['moments', 'groups', 'looks', 'midiFiles'];

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
  const reports = createReports(engine, () => lines, senders, outside);
  const delays = createDelays(leave);
  const tallies = createTallies();
  const ledger = createLedger(outside.ledger);
  const leftBehind = createLeftBehind(ledger, outside.ledger);
  const telling = createTelling(
    engine,
    () => lines,
    tallies,
    outside,
    () => mark && { showId: mark.showId, armed },
  );
  const causes = createCauses();
  const kept = createKeptBytes();
  const sentBytes: (Uint8Array | null)[] = [];
  let mark: ShowMark | null = null;
  let placed: PlacedShow = { show: emptyShow('Nothing yet'), position: {} };
  let armed = true;
  /** Nothing is known of how the show was when it was played last. */
  let fresh = true;
  /** How the running order was, where it names moments that the kept show does not have. */
  let unresolved: Omit<Before, 'armed'> | null = null;
  let wakeTimer: NodeJS.Timeout | null = null;
  let wakesAt = Infinity;
  /** A signal called for Panic; what could sound is released once what it caused has left. */
  let panicked = false;
  /** Lines whose lamps are told anew after Panic, which may have put them out. */
  const lampsAnew = new Set<number>();

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
      closing: (line) => releaseKnown(line),
    },
    outside,
  );

  function heard(slot: number, signal: Signal, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return; // a driver that still had something to say when its line was closed
    const now = performance.now();
    const outs = engine.step(slot, signal, now);
    send(outs, now);
    telling.events();
    line.totals.inCount++;
    if (signal.kind !== 'slot') line.totals.inBytes += bytes.length; // its frame was counted
    line.changed = true;
    if (line.heldIn.take(signal, now)) reports.heldChanged();
    const seq = reports.note({ cause: 0, lineSlot: slot, direction: 'in', bytes });
    causes.keep(outs.step, seq);
    traces.keep(seq, engine.trace());
    note(outs, now);
    follow();
  }

  function heardBad(slot: number, reason: string, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (line) line.totals.inBytes += bytes.length;
    bad(slot, reason, bytes);
  }

  /** Something that can't pass a line is counted and shown there. */
  function bad(slot: number, reason: string, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    line.totals.badCount++;
    line.changed = true;
    line.lastBad = { at: Date.now(), reason, bytes: [...bytes.subarray(0, 24)] };
    reports.statesChanged();
    reports.note({ cause: 0, lineSlot: slot, direction: 'bad', bytes, reason });
  }

  function gone(slot: number): void {
    if (lines.bySlot[slot]?.heldIn.clear()) reports.heldChanged();
    act(engine.lineGone(slot, performance.now()));
  }

  function carried(slot: number, way: 'in' | 'out', bytes: number): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    if (way === 'in') line.totals.inBytes += bytes;
    else line.totals.outBytes += bytes;
    line.changed = true;
  }

  /** Sends at once what may leave at once; `sentBytes` says what left. @param delayed false: without the delay of its line */
  function send(outs: Outs, now: number, delayed = true): void {
    kept.clear();
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      if (!line || outs.heldBack[i] || (delayed && line.row.delayMs > 0)) {
        sentBytes[i] = null;
        continue;
      }
      const signal = outs.signal[i]!;
      const bytes = sendOn(line, signal, now, outs.lamp[i]);
      // A slot is written again when it is noted: a whole universe fades at once.
      sentBytes[i] = bytes && outs.count > 1 && signal.kind !== 'slot' ? kept.keep(bytes) : bytes;
    }
    if (outs.panic) {
      delays.clear();
      panicked = true;
    }
    for (const { key, lowEnds } of engine.drainHolds())
      ledger.holds(
        key,
        lowEnds.flatMap(({ line, signal }) => {
          const open = lines.bySlot[line];
          return open ? [{ lineId: open.id, signal }] : [];
        }),
      );
    ledger.settle();
  }

  /** @param lamp a lamp or motor fader is told something: no note that sounds. @returns what left; null where it could not */
  function sendOn(line: OpenLine, signal: Signal, now: number, lamp = false): Uint8Array | null {
    const bytes = line.driver.send(signal);
    if (!bytes) {
      if (!lamp) ledger.missed(line.id, signal);
      return null;
    }
    line.totals.outCount++;
    if (signal.kind === 'slot') telling.levelChanged(line.slot);
    else line.totals.outBytes += bytes.length; // a slot's frame is counted
    line.changed = true;
    if (lamp) return bytes;
    ledger.left(line.id, signal);
    if (line.heldOut.take(signal, now)) reports.heldChanged();
    return bytes;
  }

  /** Releases what is held on a line. @param all false: only what could not be released before */
  function releaseKnown(line: OpenLine, all = true): void {
    const now = performance.now();
    for (const held of all ? ledger.of(line.id) : ledger.owed(line.id)) {
      let left = true;
      for (const signal of held.releases) {
        const bytes = sendOn(line, signal, now);
        if (!bytes) left = false;
        else reports.note({ cause: 0, lineSlot: line.slot, direction: 'out', bytes: shown(signal, bytes) });
      }
      if (left) ledger.released(held);
    }
  }

  /** Panic, when what is known to sound was released: what could sound is too, whoever pressed it. */
  function releaseAll(now: number): void {
    if (!armed) return;
    const could = couldSound(placed.show);
    for (const line of lines.bySlot) {
      if (!line || line.row.muted) continue;
      releaseKnown(line);
      for (const signal of could.get(line.id) ?? []) {
        const bytes = sendOn(line, signal, now);
        if (bytes) reports.note({ cause: 0, lineSlot: line.slot, direction: 'out', bytes });
      }
      if (could.has(line.id)) lampsAnew.add(line.slot);
    }
  }

  /** A line is there, or somebody new is at its other end: first it is released what is still held there. */
  function opened(slot: number): void {
    const line = lines.bySlot[slot];
    if (line) releaseKnown(line, false);
    act(engine.lineBack(slot, performance.now()));
  }

  const slotBytes = new Uint8Array(3);
  const shown = (signal: Signal, bytes: Uint8Array): Uint8Array =>
    signal.kind === 'slot' ? encodeSlot(signal, slotBytes) : bytes;

  /** Notes what was sent, and keeps what leaves later. */
  function note(outs: Outs, now: number): void {
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      const signal = outs.signal[i]!;
      const sender = outs.sender[i]!;
      if (!line) {
        tallies.count(sender, null, 'failed');
        continue;
      }
      const bytes = sentBytes[i];
      const lineSlot = line.slot;
      const step = outs.because[i]!;
      const cause = causes.find(step);
      const later = step !== outs.step;
      if (!bytes && !outs.heldBack[i] && line.row.delayMs > 0) {
        const dueAt = now + line.row.delayMs;
        if (delays.keep({ dueAt, slot: lineSlot, signal, sender, cause })) continue;
        tallies.count(sender, line.id, 'failed');
        bad(lineSlot, DELAYS_FULL, encodeSignal(signal));
        continue;
      }
      tallies.count(sender, line.id, bytes ? 'sent' : outs.heldBack[i] ? 'heldBack' : 'failed');
      if (bytes)
        reports.note({ cause, later, lineSlot, direction: 'out', bytes: shown(signal, bytes), sender });
      else if (outs.heldBack[i])
        reports.note({ cause, later, lineSlot, direction: 'heldBack', bytes: encodeSignal(signal), sender });
      // Else the line's own trouble says why nothing left.
    }
  }

  /** What waited for its line's delay leaves now, if anything may leave the line now. */
  function leave({ slot, signal, sender, cause }: Delayed): void {
    const line = lines.bySlot[slot];
    if (!line) return tallies.count(sender, null, 'failed');
    if (!armed || line.row.muted) {
      tallies.count(sender, line.id, 'heldBack');
      reports.note({ cause, lineSlot: slot, direction: 'heldBack', bytes: encodeSignal(signal), sender });
      return;
    }
    const bytes = sendOn(line, signal, performance.now());
    tallies.count(sender, line.id, bytes ? 'sent' : 'failed');
    if (bytes) reports.note({ cause, lineSlot: slot, direction: 'out', bytes: shown(signal, bytes), sender });
  }

  /** Sends and notes what no signal caused. */
  function act(outs: Outs, delayed = true): void {
    const now = performance.now();
    send(outs, now, delayed);
    telling.events();
    note(outs, now);
    follow();
  }

  /** What waits is forgotten, and what sounds is released without any delay. */
  function stopAll(releases: () => Outs): void {
    delays.clear();
    act(releases(), false);
  }

  function panic(desk: string): void {
    stopAll(() => engine.panic(performance.now(), desk));
    releaseAll(performance.now());
    follow();
  }

  function setArmed(next: boolean): void {
    if (next) act(engine.setArmed(true, performance.now()));
    else stopAll(() => engine.setArmed(false, performance.now()));
    armed = next;
    telling.changed();
  }

  /** Every input ends with this: who looks on is told, what is due is planned, and what signals made of the show is so from now on. */
  function follow(): void {
    const live = telling.follow();
    if (live) placed = withLive(placed, live);
    planWake();
    if (panicked) {
      panicked = false;
      releaseAll(performance.now());
    }
    for (const slot of lampsAnew) {
      lampsAnew.delete(slot);
      act(engine.lineBack(slot, performance.now()));
    }
  }

  /** The engine is woken when it asked to be: at most once per round of what it waits for. */
  function planWake(): void {
    const at = engine.wakeAt();
    if (at === wakesAt) return;
    if (wakeTimer) clearTimeout(wakeTimer);
    wakesAt = at;
    wakeTimer = at === Infinity ? null : setTimeout(wake, Math.max(0, Math.ceil(at - performance.now())));
  }

  function wake(): void {
    wakesAt = Infinity;
    const cut = engine.cutRoutes().size;
    act(engine.wake(performance.now()));
    if (engine.cutRoutes().size !== cut) reports.routesChanged();
  }

  /** The mappings that ops put in the places where they are; null where they do more than that. */
  function replaced(ops: readonly Op[]): Mapping[] | null {
    const { show } = placed;
    const rows: Mapping[] = [];
    for (const op of ops) {
      if (op.op !== 'put' || op.table !== 'mappings') return null;
      if (positionOf(placed, 'mappings', op.row.id) !== op.position) return null;
      rows.push(op.row);
    }
    return rows.length <= MOST_REPLACED && rows.every(({ id }) => show.mappings.some((row) => row.id === id))
      ? rows
      : null;
  }

  /** An edit of a mapping costs what the mapping is, however large the show: signals hardly wait for it. */
  function edit(ops: Op[]): void {
    if (ops.every((op) => op.op !== 'settings' && OF_THE_ORDER.includes(op.table))) {
      placed = applyOps(placed, ops);
      numberSenders();
      return act(engine.loadMoments(placed.show, performance.now()));
    }
    const rows = replaced(ops);
    if (!rows) return load(applyOps(placed, ops));
    const { show } = placed;
    const mappings = [...show.mappings];
    for (const row of rows) {
      const order = mappings.findIndex(({ id }) => id === row.id);
      mappings[order] = row;
      act(engine.replace(row, order, performance.now()));
    }
    placed = { ...placed, show: { ...placed.show, mappings } };
  }

  const slotsNow = (): Hello['slots'] => ({ lines: Object.fromEntries(lines.slots), senders: senders.all() });
  const postSlots = (): void => outside.tell({ t: 'slots', slots: slotsNow() });

  /** Everything that sends has a number, by which traffic names it. */
  function numberSenders(): void {
    const { mappings, routes, moments } = placed.show;
    tallies.setMoments(moments.map(({ id }) => id));
    if (senders.number([...mappings, ...routes, ...moments])) postSlots();
  }

  function load(next: PlacedShow): void {
    const before = placed;
    placed = next;
    const { show } = placed;
    const newLines = lines.number(show.lines);
    numberSenders();
    const present = new Map(show.lines.map((line) => [line.id, lines.slots.get(line.id)!]));
    // What a changed mapping or route held is released over the lines as they still are.
    act(engine.load(show, present, performance.now()));
    if (before.show.lines !== show.lines) {
      const open = new Set(lines.bySlot);
      lines.sync(show.lines);
      for (const line of lines.bySlot) if (line && !open.has(line)) giveLevels(line);
      reports.heldChanged();
    }
    if (before.show.routes !== show.routes) reports.routesChanged();
    if (newLines) postSlots();
  }

  /** A universe that is opened anew goes on with the levels that it had. */
  function giveLevels(line: OpenLine): void {
    if (!armed || line.row.muted) return;
    engine.levels(line.slot).forEach((level, at) => {
      if (level > 0) line.driver.send({ kind: 'slot', slot: at + 1, level });
    });
  }

  /** Goes on from where it was before a restart: what was held is released first, then the levels are there. */
  function restore({ standingBy, called, beatAt, finished, levels }: Omit<Before, 'armed'>): void {
    for (const line of lines.bySlot) if (line) releaseKnown(line, false);
    for (const [id, known] of Object.entries(levels)) {
      const line = lines.bySlot[lines.slots.get(id) ?? -1];
      const bytes = bytesOfBase64(known);
      if (!line || !bytes) continue;
      engine.restoreLevels(line.slot, bytes);
      giveLevels(line);
      telling.levelChanged(line.slot);
    }
    if (beatAt !== null) engine.restoreBeat(beatAt - performance.timeOrigin);
    const last = called && { ...called, at: called.at - performance.timeOrigin };
    act(engine.restoreOrder({ standingBy, called: last, finished }, performance.now()));
  }

  /** A show from the server: the one that is played, changed; or another, which goes on from what is known of it. */
  function takeShow(next: ShowMark, show: PlacedShow, before: Before | null): void {
    if (before) setArmed(before.armed);
    mark = next;
    outside.keeper.show(next, show);
    leftBehind.find(show.show.lines, true);
    load(show);
    for (const line of lines.bySlot) if (line) releaseKnown(line, false);
    if (before) restore(before);
    else if (unresolved) restore({ ...unresolved, beatAt: null, levels: {} });
    unresolved = null;
    fresh = false;
    telling.changed();
  }

  function takeOps(next: ShowMark, ops: Op[]): void {
    if (!mark || next.showId !== mark.showId || next.rev !== mark.rev + 1)
      return outside.tell({ t: 'wantShow' });
    mark = next;
    outside.keeper.ops(next, ops);
    edit(ops);
  }

  function begin(show: KeptShow | null, live: KeptLive | null, owed: readonly LedgerEntry[]): void {
    leftBehind.begin(owed);
    if (!show) return;
    leftBehind.find(show.placed.show.lines, false);
    fresh = live === null;
    ({ mark } = show);
    const { settings, moments } = show.placed.show;
    if (live) setArmed(live.armed);
    load(live ? withLive(show.placed, live.live) : show.placed);
    const ended = settings.afterRestart === 'ended';
    const running = live?.running ?? [];
    const before = {
      standingBy: live?.standingBy ?? null,
      called: live?.called ?? null,
      beatAt: live?.beatAt ?? null,
      finished: ended ? running : [],
      levels: live?.levels ?? {},
    };
    restore(before);
    const known = new Set(moments.map(({ id }) => id));
    const named = [...running, before.standingBy, before.called?.id ?? null].filter((id) => id !== null);
    // What the last edits made may not have been written: it is in the show that the server has.
    if (named.some((id) => id !== AT_THE_END && !known.has(id))) unresolved = before;
    const restored: Restored = { at: Date.now(), running, ended };
    // What was finished just now is an event of ours, and not somebody who goes on.
    engine.orderEvents();
    telling.restored = running.length > 0 ? restored : null;
    telling.changed();
  }

  /** Sends something on a line by hand, or releases it. */
  function tryLine({ lineId, send: wish, pressed, value = rangeOf(wish)[1] }: TryLine): void {
    const line = lines.bySlot[lines.slots.get(lineId) ?? -1];
    if (!line) return;
    const compiled = compileSend(wish);
    if (!pressed && compiled.releases.length === 0) return;
    const filled = pressed ? compiled.fill(value, byHand(value, 0)) : 'releases';
    if (filled === 'nothing') return;
    const now = performance.now();
    for (const signal of filled === 'signals' ? compiled.signals : compiled.releases) {
      const bytes = armed && !line.row.muted ? sendOn(line, signal, now) : null;
      if (!bytes && armed && !line.row.muted) continue;
      const direction = bytes ? 'out' : 'heldBack';
      reports.note({ cause: 0, lineSlot: line.slot, direction, bytes: bytes ?? encodeSignal(signal) });
    }
  }

  function take(message: ToEngine): void {
    const now = performance.now();
    switch (message.t) {
      case 'show':
        return takeShow(message.mark, message.placed, message.before);
      case 'order':
        return act(engine.order(message.act, now, message.desk));
      case 'ops':
        return takeOps(message.mark, message.ops);
      case 'armed':
        return setArmed(message.armed);
      case 'panic':
        return panic(message.desk);
      case 'try':
        return act(engine.tryMapping(message.mappingId, message.pressed, now));
      case 'tap':
        return act(engine.tap(now));
      case 'why':
        return outside.tell({ t: 'why', ask: message.ask, steps: traces.find(message.seq) });
      case 'done':
        return outside.tell({ t: 'done', ask: message.ask });
      case 'giveShow':
        return outside.tell({ t: 'show', mark, placed });
      case 'tryLine':
        return tryLine(message);
      case 'restoreRoute':
        if (engine.restoreRoute(message.routeId)) reports.routesChanged();
        return;
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
    begin,
    portBytes: (carrier, port, bytes) => carriers.receive(carrier, port, bytes),
    joined() {
      reports.joined();
      const cut = [...engine.cutRoutes()].map(([id, at]) => [id, performance.timeOrigin + at] as const);
      return {
        t: 'hello',
        instance,
        mark,
        fresh,
        armed,
        live: telling.live(),
        beatAt: telling.beatAt(),
        order: telling.orderSeen(),
        restored: telling.restored,
        levels: telling.levels(),
        slots: slotsNow(),
        lineStates: lines.states(),
        cutRoutes: Object.fromEntries(cut),
      };
    },
    left: () => carriers.leaveAll(),
    kept() {
      const state = telling.kept();
      return mark && state && { show: { mark, placed }, live: state };
    },
    close() {
      stopAll(() => engine.setArmed(false, performance.now()));
      if (wakeTimer) clearTimeout(wakeTimer);
      telling.stop();
      reports.stop();
      return lines.closeAll();
    },
  };
}
