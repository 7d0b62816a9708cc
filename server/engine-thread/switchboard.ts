/**
 * The engine thread's middle: what a line hears goes through the core engine and out to other lines,
 * at once; what people look at is noted after that and leaves in batches.
 */
import { encodeSignal } from '@tawny-signal/core/bytes';
import { applyOps, positionOf, type Op, type PlacedShow, type TableName } from '@tawny-signal/core/edits';
import type { OrderEvent, OrderState } from '@tawny-signal/core/cues/runner';
import { encodeSlot } from '@tawny-signal/core/dmx/slot';
import { createEngine, type Outs } from '@tawny-signal/core/engine';
import { byHand } from '@tawny-signal/core/mapping/heard';
import { compileSend, rangeOf } from '@tawny-signal/core/mapping/sends';
import { withLive } from '@tawny-signal/core/show/live';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { emptyShow } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import { createCarriers } from './carriers.js';
import { createCauses } from './causes.js';
import { createDelays, type Delayed } from './delays.js';
import { createLines, type OpenLine } from './lines.js';
import { createKeptBytes } from './kept-bytes.js';
import type { Before, FromThread, ToThread } from './messages.js';
import { createReports } from './reports.js';
import { createSenders } from './senders.js';
import { createTallies } from './tallies.js';
import { createTraces } from './traces.js';

type TryLine = Extract<ToThread, { t: 'tryLine' }>;

/** Above this, the show is loaded whole. */
const MOST_REPLACED = 16;
/** How often what was counted for the log, and the levels, are told. */
const TELL_MS = 1000;
/** Tables that only the running order reads. */
const OF_THE_ORDER: readonly TableName[] = ['moments', 'groups', 'looks', 'midiFiles'];

export interface Switchboard {
  take(message: ToThread): void;
}

/** @param post to the main thread, with the buffers that may be handed over. */
export function createSwitchboard(
  post: (message: FromThread, transfer?: ArrayBuffer[]) => void,
): Switchboard {
  const engine = createEngine();
  const senders = createSenders();
  const carriers = createCarriers((carrier, port, bytes) =>
    post({ t: 'portBytes', carrier, port, bytes: bytes.slice() }),
  );
  const traces = createTraces();
  const reports = createReports(engine, () => lines, senders, post);
  const delays = createDelays(leave);
  const tallies = createTallies();
  const causes = createCauses();
  /** Lines whose levels are to be told. */
  const levelsChanged = new Set<number>();
  const telling = setInterval(tell, TELL_MS);
  const kept = createKeptBytes();
  const sentBytes: (Uint8Array | null)[] = [];
  let placed: PlacedShow = { show: emptyShow('Nothing yet'), position: {} };
  let armed = true;
  let banksOn = engine.banksOn();
  let tempoNow = engine.tempo();
  let orderNow: OrderState | null = null;
  let wakeTimer: NodeJS.Timeout | null = null;
  let wakesAt = Infinity;

  const lines = createLines(
    carriers,
    (slot) => ({
      heard: (signal, bytes) => heard(slot, signal, bytes),
      bad: (reason, bytes) => bad(slot, reason, bytes),
      gone: () => gone(slot),
      carried: (way, bytes) => carried(slot, way, bytes),
    }),
    () => reports.statesChanged(),
    // A driver may be open before its line is in the list.
    (slot) => queueMicrotask(() => act(engine.lineBack(slot, performance.now()))),
  );

  function heard(slot: number, signal: Signal, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return; // a driver that still had something to say when its line was closed
    const now = performance.now();
    const outs = engine.step(slot, signal, now);
    send(outs, now);
    tellEvents();
    line.totals.inCount++;
    if (signal.kind !== 'slot') line.totals.inBytes += bytes.length; // its frame was counted
    line.changed = true;
    if (line.heldIn.take(signal, now)) reports.heldChanged();
    const seq = reports.note({ cause: 0, lineSlot: slot, direction: 'in', bytes });
    causes.keep(outs.step, seq);
    traces.keep(seq, engine.trace());
    note(outs, now);
    planWake();
    followShow();
  }

  function bad(slot: number, reason: string, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    line.totals.badCount++;
    line.totals.inBytes += bytes.length;
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

  /** Sends at once what may leave at once; `sentBytes` says what left. */
  function send(outs: Outs, now: number): void {
    kept.clear();
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      if (!line || outs.heldBack[i] || line.row.delayMs > 0) {
        sentBytes[i] = null;
        continue;
      }
      const signal = outs.signal[i]!;
      const bytes = line.driver.send(signal);
      // A slot is written again when it is noted: a whole universe fades at once.
      sentBytes[i] = bytes && outs.count > 1 && signal.kind !== 'slot' ? kept.keep(bytes) : bytes;
      if (bytes) count(line, signal, bytes, now, outs.lamp[i]);
    }
    if (outs.panic) delays.clear();
  }

  /** @param lamp a lamp or motor fader was told something: no note that sounds */
  function count(line: OpenLine, signal: Signal, bytes: Uint8Array, now: number, lamp = false): void {
    line.totals.outCount++;
    if (signal.kind === 'slot') levelsChanged.add(line.slot);
    else line.totals.outBytes += bytes.length; // a slot's frame is counted
    line.changed = true;
    if (!lamp && line.heldOut.take(signal, now)) reports.heldChanged();
  }

  /** What happened to the running order; what was counted until then was before it. */
  function tellEvents(): void {
    const events = engine.orderEvents();
    if (events.length > 0)
      postLog(events.map((event) => ({ ...event, at: performance.timeOrigin + event.at })));
  }

  function postLog(events: OrderEvent[]): void {
    const taken = tallies.take();
    if (taken.length + events.length > 0) post({ t: 'log', tallies: taken, events });
  }

  function tell(): void {
    postLog([]);
    if (levelsChanged.size === 0) return;
    const levels: Record<string, Uint8Array> = {};
    for (const slot of levelsChanged) {
      const line = lines.bySlot[slot];
      if (line) levels[line.id] = engine.levels(slot);
    }
    levelsChanged.clear();
    post({ t: 'levels', levels });
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
      const isDelayed = !outs.heldBack[i] && line.row.delayMs > 0;
      tallies.count(sender, line.id, bytes || isDelayed ? 'sent' : outs.heldBack[i] ? 'heldBack' : 'failed');
      if (bytes)
        reports.note({ cause, later, lineSlot, direction: 'out', bytes: shown(signal, bytes), sender });
      else if (outs.heldBack[i])
        reports.note({ cause, later, lineSlot, direction: 'heldBack', bytes: encodeSignal(signal), sender });
      else if (isDelayed)
        delays.keep({ dueAt: now + line.row.delayMs, slot: lineSlot, signal, sender, cause });
      // Else the line's own trouble says why nothing left.
    }
  }

  /** What waited for its line's delay leaves now. */
  function leave({ slot, signal, sender, cause }: Delayed): void {
    const line = lines.bySlot[slot];
    const bytes = line?.driver.send(signal);
    if (!line || !bytes) return;
    count(line, signal, bytes, performance.now());
    reports.note({ cause, lineSlot: slot, direction: 'out', bytes, sender });
  }

  /** Sends and notes what no signal caused. */
  function act(outs: Outs): void {
    const now = performance.now();
    send(outs, now);
    tellEvents();
    note(outs, now);
    planWake();
    followShow();
  }

  /** What waits is forgotten, and what sounds is released without any delay. */
  function stopAll(releases: () => Outs): void {
    delays.clear();
    const outs = releases();
    kept.clear();
    const now = performance.now();
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      const bytes = line && !outs.heldBack[i] ? line.driver.send(outs.signal[i]!) : null;
      sentBytes[i] = bytes && kept.keep(bytes);
      if (line && bytes) count(line, outs.signal[i]!, bytes, now, outs.lamp[i]);
    }
    tellEvents();
    note(outs, now);
    planWake();
    followShow();
  }

  function setArmed(next: boolean): void {
    if (next) act(engine.setArmed(true, performance.now()));
    else stopAll(() => engine.setArmed(false, performance.now()));
    armed = next;
  }

  /** What runs and stands by is said whenever it is other. */
  function followOrder(): void {
    const order = engine.orderState();
    if (order === orderNow) return;
    orderNow = order;
    const epoch = (at: number): number => performance.timeOrigin + at;
    post({
      t: 'order',
      order: {
        standingBy: order.standingBy,
        running: order.running.map((one) => ({ ...one, since: epoch(one.since), endsAt: epoch(one.endsAt) })),
        following: order.following.map(({ id, at }) => ({ id, at: epoch(at) })),
        heldAt: order.heldAt === null ? null : epoch(order.heldAt),
        called: order.called && { ...order.called, at: epoch(order.called.at) },
      },
    });
  }

  /** What signals made of the show is so from now on, here and for everybody. */
  function followShow(): void {
    followOrder();
    const on = engine.banksOn();
    const tempo = engine.tempo();
    if (on === banksOn && tempo === tempoNow) return;
    banksOn = on;
    tempoNow = tempo;
    const live = { banksOn: [...on], bpm: tempo.bpm };
    placed = withLive(placed, live);
    post({ t: 'live', live, beatAt: performance.timeOrigin + tempo.since });
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

  function postSlots(): void {
    post({ t: 'slots', slots: { lines: Object.fromEntries(lines.slots), senders: senders.all() } });
  }

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

  /** Goes on from where it was before a restart. */
  function restore({ standingBy, finished, levels }: Before): void {
    for (const [id, known] of Object.entries(levels)) {
      const line = lines.bySlot[lines.slots.get(id) ?? -1];
      if (!line) continue;
      engine.restoreLevels(line.slot, known);
      giveLevels(line);
    }
    act(engine.restoreOrder(standingBy, finished, performance.now()));
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
      const bytes = armed && !line.row.muted ? line.driver.send(signal) : null;
      if (bytes) count(line, signal, bytes, now);
      else if (armed && !line.row.muted) continue;
      const direction = bytes ? 'out' : 'heldBack';
      reports.note({ cause: 0, lineSlot: line.slot, direction, bytes: bytes ?? encodeSignal(signal) });
    }
  }

  return {
    take(message) {
      switch (message.t) {
        case 'show':
          setArmed(message.armed);
          load(message.placed);
          return restore(message.before);
        case 'order':
          return act(engine.order(message.act, performance.now(), message.desk));
        case 'ops':
          return edit(message.ops);
        case 'armed':
          return setArmed(message.armed);
        case 'panic':
          return stopAll(() => engine.panic(performance.now(), message.desk));
        case 'try':
          return act(engine.tryMapping(message.mappingId, message.pressed, performance.now()));
        case 'tap':
          return act(engine.tap(performance.now()));
        case 'why':
          return post({ t: 'why', ask: message.ask, steps: traces.find(message.seq) });
        case 'tryLine':
          return tryLine(message);
        case 'restoreRoute':
          if (engine.restoreRoute(message.routeId)) reports.routesChanged();
          return;
        case 'offer':
          return carriers.offer(message.carrier, message.ports);
        case 'leave':
          return carriers.leave(message.carrier);
        case 'portBytes':
          return carriers.receive(message.carrier, message.port, message.bytes);
        case 'tellAll':
          return reports.tellAll();
        case 'took':
          return reports.took();
        case 'fail':
          throw new Error('failed on purpose');
        case 'close':
          stopAll(() => engine.setArmed(false, performance.now()));
          if (wakeTimer) clearTimeout(wakeTimer);
          clearInterval(telling);
          tell();
          reports.stop();
          lines.closeAll();
          post({ t: 'closed' });
      }
    },
  };
}
