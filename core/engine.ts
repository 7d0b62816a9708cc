/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import { createAgenda } from './agenda.js';
import {
  compileMapping,
  type ActiveSend,
  type CompiledMapping,
  type MappingLines,
} from './mapping/compiled.js';
import { wantsValue } from './mapping/hear.js';
import { buildIndex, type MappingIndex } from './mapping/lookup.js';
import { finishValue } from './mapping/shape.js';
import { createPatchBay } from './routes/patch-bay.js';
import { copySignal, type OscSignal, type Signal } from './signal.js';
import type { Mapping } from './show/mapping.js';
import type { Show } from './show.js';

/**
 * What leaves because of one input: the first `count` of each list, in the order in which it must leave.
 * The lists are used again for the next input: act on them before it.
 */
export interface Outs {
  count: number;
  /** Index of the line to send on; -1 where the sender's line is not there. */
  line: number[];
  signal: Signal[];
  /** Id of the mapping or route that sends it. */
  sender: string[];
  /** True for what is only shown: the show is safe, or the line muted. */
  heldBack: boolean[];
}

export interface Engine {
  /**
   * Takes a show, or the same show changed. What a mapping or route held that is no longer there, or no longer
   * the same, is released. Costs time in proportion to the show; signals don't.
   * @param lineIndex the number of each line that exists, by its id.
   */
  load(show: Show, lineIndex: ReadonlyMap<string, number>, now: number): Outs;
  /** A signal heard on a line. @param now monotonic ms */
  step(line: number, signal: Signal, now: number): Outs;
  /** Monotonic ms when `wake` is due; Infinity when nothing is. */
  wakeAt(): number;
  /** Does what is due by now. */
  wake(now: number): Outs;
  /** Presses or releases a mapping by hand, at the top of its range, whatever it hears. */
  tryMapping(id: string, pressed: boolean, now: number): Outs;
  /** Releases all that is held. */
  panic(now: number): Outs;
  /** Releases what is held by notes heard on this line, as when it closes. */
  lineGone(line: number, now: number): Outs;
  /** Safe: all that is held is released, and from then on what would leave is held back. */
  setArmed(armed: boolean, now: number): Outs;
  /** Mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Has the next `drainFired` give every mapping that ever fired, for those who have just begun to look. */
  tellAll(): void;
  /** Routes that are cut since they closed a loop, by id, with when that was found (monotonic ms). */
  cutRoutes(): ReadonlyMap<string, number>;
  /** Opens a route that was cut. @returns whether it was. */
  restoreRoute(id: string): boolean;
}

/** In a mapping's held notes: held by hand, not by a note. */
const BY_HAND = -1;
/** In a mapping's held notes: held by a key. */
const BY_KEY = -2;

/** What a mapping does later. What belongs to an earlier press or release than its send's `turn` is out of date. */
type Later =
  /** A delayed send: what it was shaped into then. */
  | { do: 'send'; mapping: CompiledMapping; send: ActiveSend; shaped: number; turn: null }
  /** The end of a note with a length, or of a delayed hold. */
  | { do: 'release'; mapping: CompiledMapping; send: ActiveSend; turn: number | null }
  | { do: 'repeat'; mapping: CompiledMapping; send: ActiveSend; turn: number }
  | { do: 'glide'; mapping: CompiledMapping; send: null; turn: null }
  /** It has been held for as long as is wanted, if it still is. */
  | { do: 'heldLong'; mapping: CompiledMapping; send: null; turn: number; heard: number };

/** How often a glide moves on: smoother than the 44 frames a second of DMX. */
const GLIDE_MS = 20;

/** @param seed the same seed gives the same dice */
export function createEngine(seed = 1): Engine {
  const outs: Outs = { count: 0, line: [], signal: [], sender: [], heldBack: [] };
  const routes = createPatchBay();
  const agenda = createAgenda<Later>();
  /** Notes that are down on each line, as line << 11 | channel << 7 | number: for mappings that want one to be. */
  const down = new Set<number>();
  let byId = new Map<string, CompiledMapping>();
  let holders: CompiledMapping[] = []; // mappings that can hold
  let shifts = false;
  let index: MappingIndex = buildIndex([]);
  let fired: CompiledMapping[] = [];
  let armed = true;

  function report(mapping: CompiledMapping): void {
    if (!mapping.reported) return;
    mapping.reported = false;
    fired.push(mapping);
  }

  function put(line: number, signal: Signal, sender: string, muted: boolean): void {
    const at = outs.count++;
    outs.line[at] = line;
    outs.signal[at] = signal;
    outs.sender[at] = sender;
    outs.heldBack[at] = !armed || muted;
  }

  /** Sends the release of what sounds. */
  function stop(mapping: CompiledMapping, send: ActiveSend): void {
    send.sounding = false;
    send.turn++;
    put(send.line, send.release!, mapping.source.id, send.muted);
  }

  /** Sends one of a mapping's things now. @param copied its signals are used again before this leaves */
  function fireSend(
    mapping: CompiledMapping,
    send: ActiveSend,
    shaped: number,
    now: number,
    copied: boolean,
  ): void {
    if (!send.fill(send.own(shaped))) return;
    // A note with a length that sounds still is ended before it begins anew.
    if (send.sounding && send.lengthMs !== null) stop(mapping, send);
    for (const signal of send.signals)
      put(send.line, copied ? copySignal(signal) : signal, mapping.source.id, send.muted);
    // What is held back sounds nowhere.
    if (!send.release || !armed || send.muted) return;
    send.sounding = isDown(send.signals[0]!);
    send.turn++;
    if (!send.sounding) return;
    const { turn } = send;
    if (send.lengthMs !== null) agenda.put(now + send.lengthMs, { do: 'release', mapping, send, turn });
    else if (!mapping.holds && send.signals[0]!.kind === 'key') return stop(mapping, send); // its release is never heard
    if (send.repeatMs > 0) agenda.put(now + send.repeatMs, { do: 'repeat', mapping, send, turn });
  }

  /** Sends all of a mapping's things for a value, those with a delay later. */
  function sendAll(mapping: CompiledMapping, value: number, now: number, copied = false): void {
    const shaped = finishValue(mapping.source.shape, value);
    mapping.lastShaped = shaped;
    mapping.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) {
      if (send.delayMs > 0) agenda.put(now + send.delayMs, { do: 'send', mapping, send, shaped, turn: null });
      else fireSend(mapping, send, shaped, now, copied);
    }
  }

  /** Goes to a value: at once, or by a glide. */
  function goTo(mapping: CompiledMapping, value: number, now: number): void {
    const { glideMs } = mapping.source.shape;
    const from = mapping.glide?.at;
    if (glideMs === 0 || from === undefined) {
      mapping.glide = glideMs === 0 ? null : { from: value, to: value, since: now, at: value };
      return sendAll(mapping, value, now);
    }
    const moving = mapping.glide!.at !== mapping.glide!.to;
    mapping.glide = { from, to: value, since: now, at: from };
    report(mapping);
    if (!moving) agenda.put(now, { do: 'glide', mapping, send: null, turn: null });
  }

  function glideOn(mapping: CompiledMapping, now: number): void {
    const { glide } = mapping;
    if (!glide) return;
    const part = Math.min(1, (now - glide.since) / mapping.source.shape.glideMs);
    const value = part === 1 ? glide.to : glide.from + part * (glide.to - glide.from);
    if (value !== glide.at || part === 1) sendAll(mapping, value, now, true);
    glide.at = value;
    if (part < 1) agenda.put(now + GLIDE_MS, { do: 'glide', mapping, send: null, turn: null });
  }

  function emit(mapping: CompiledMapping, heard: number, now: number): void {
    const wished = mapping.shaper.take(heard);
    if (wished === null) return;
    mapping.fired++;
    mapping.lastHeard = heard;
    goTo(mapping, wished, now);
  }

  /** Releases what sounds as long as its control is held, each with its own delay. */
  function releaseSends(mapping: CompiledMapping, now: number): void {
    for (const send of mapping.sends) {
      if (!send.release || send.lengthMs !== null) continue;
      if (send.delayMs > 0) agenda.put(now + send.delayMs, { do: 'release', mapping, send, turn: null });
      else if (send.sounding) stop(mapping, send);
    }
  }

  /** What was heard is let go: what sounds is released, and the rest sends what the low end is shaped into. */
  function letGo(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    if (mapping.waiting) {
      mapping.waiting = false;
      return; // it never began
    }
    mapping.lastAt = now;
    report(mapping);
    releaseSends(mapping, now);
    if (mapping.source.shape.each !== 'value' || !mapping.sends.some((send) => !send.release)) return;
    mapping.fired++;
    [mapping.lastHeard] = mapping.source.shape.in;
    sendLow(mapping, now, false);
  }

  /** The low end, to those that have no release of their own. @param atOnce without glide and delay */
  function sendLow(mapping: CompiledMapping, now: number, atOnce: boolean): void {
    const low = mapping.shaper.low();
    if (mapping.glide && !atOnce && mapping.sends.every((send) => !send.release))
      return goTo(mapping, low, now);
    if (mapping.glide) mapping.glide = { from: low, to: low, since: now, at: low };
    const shaped = finishValue(mapping.source.shape, low);
    mapping.lastShaped = shaped;
    for (const send of mapping.sends) {
      if (send.release) continue;
      if (send.delayMs > 0 && !atOnce)
        agenda.put(now + send.delayMs, { do: 'send', mapping, send, shaped, turn: null });
      else fireSend(mapping, send, shaped, now, true);
    }
  }

  /** Ends all of it at once: what is planned is forgotten, what sounds is released. */
  function end(mapping: CompiledMapping, now: number): void {
    const wasHeld = mapping.held.size > 0 && !mapping.waiting;
    mapping.held.clear();
    mapping.waiting = false;
    if (!wasHeld && !mapping.sends.some((send) => send.sounding)) return;
    mapping.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) if (send.sounding) stop(mapping, send);
    if (wasHeld && mapping.source.shape.each === 'value') sendLow(mapping, now, true);
  }

  /** What is held begins: at once, or once it has been held for as long as is wanted. */
  function begin(mapping: CompiledMapping, heard: number, now: number): void {
    const { heldForMs } = mapping.source.when;
    if (heldForMs === 0) return emit(mapping, heard, now);
    if (mapping.waiting) return;
    mapping.waiting = true;
    const turn = ++mapping.waits;
    agenda.put(now + heldForMs, { do: 'heldLong', mapping, send: null, turn, heard });
  }

  function hold(mapping: CompiledMapping, key: number, pressed: boolean, heard: number, now: number): void {
    const silent = !armed || mapping.sends.every((send) => send.muted);
    if (pressed) {
      if (!silent) mapping.held.add(key);
      if (silent) emit(mapping, heard, now);
      else begin(mapping, heard, now);
    } else if (mapping.held.delete(key)) {
      if (mapping.held.size === 0) letGo(mapping, now);
    } else if (silent) emit(mapping, mapping.source.shape.in[0], now);
  }

  const heeds = (mapping: CompiledMapping, value: number, now: number): boolean =>
    (mapping.shift < 0 || down.has(mapping.shift)) && (!mapping.gate || mapping.gate.passes(value, now));

  function fire(mapping: CompiledMapping, signal: Signal, now: number): void {
    const { hear } = mapping.source;
    switch (signal.kind) {
      case 'osc': {
        const value = numberIn(signal);
        if (heeds(mapping, value, now)) emit(mapping, value, now);
        return;
      }
      case 'slot':
        if (wantsValue(hear, signal.level) && heeds(mapping, signal.level, now))
          emit(mapping, mapping.usesNumber ? signal.slot : signal.level, now);
        return;
      case 'key':
        if (signal.down && !heeds(mapping, 1, now)) return;
        if (mapping.holds) hold(mapping, BY_KEY, signal.down, 1, now);
        else if (signal.down) emit(mapping, 1, now);
        return;
      case 'sysex':
      case 'system':
        return;
      default: {
        const heard = mapping.usesNumber ? signal.number : signal.value;
        const pressed = !mapping.holds || signal.kind === 'noteOn';
        if (pressed && !(wantsValue(hear, signal.value) && heeds(mapping, signal.value, now))) return;
        if (!mapping.holds) emit(mapping, heard, now);
        else hold(mapping, (signal.channel << 7) | signal.number, pressed, heard, now);
      }
    }
  }

  function clear(): Outs {
    outs.count = 0;
    return outs;
  }

  const isHeld = (mapping: CompiledMapping): boolean =>
    mapping.held.size > 0 || mapping.sends.some((send) => send.sounding);

  /** What these mappings, or all, have planned is forgotten, and what glides stays where it is. */
  function forget(whose: ReadonlySet<CompiledMapping> | null): void {
    agenda.drop(({ mapping }) => whose === null || whose.has(mapping));
    for (const { glide } of whose ?? byId.values()) if (glide) glide.to = glide.at;
  }

  function endAll(now: number): void {
    forget(null);
    for (const mapping of holders) end(mapping, now);
    routes.releaseAll(put);
  }

  function doLater(later: Later, now: number): void {
    const { mapping, send } = later;
    switch (later.do) {
      case 'send':
        return fireSend(mapping, later.send, later.shaped, now, true);
      case 'release':
        if (send && send.sounding && (later.turn === null || later.turn === send.turn)) stop(mapping, send);
        return;
      case 'repeat':
        if (!later.send.sounding || later.turn !== later.send.turn) return;
        put(later.send.line, copySignal(later.send.signals[0]!), mapping.source.id, later.send.muted);
        agenda.put(now + later.send.repeatMs, later);
        return;
      case 'glide':
        return glideOn(mapping, now);
      case 'heldLong':
        if (!mapping.waiting || later.turn !== mapping.waits) return;
        mapping.waiting = false;
        emit(mapping, later.heard, now);
    }
  }

  const alike = ({ hear, when, shape, sends }: Mapping, other: Mapping): boolean =>
    JSON.stringify([hear, when, shape, sends]) ===
    JSON.stringify([other.hear, other.when, other.shape, other.sends]);

  const sameLines = (mapping: CompiledMapping, { inLine, outs: ends }: MappingLines): boolean =>
    mapping.inLine === inLine &&
    mapping.sends.length === ends.length &&
    mapping.sends.every((send, at) => send.line === ends[at]!.line && send.muted === ends[at]!.muted);

  /**
   * The mapping as it was compiled before, with all that it holds and does, if it hears, shapes and sends the same: most
   * of a show stays when one row is edited.
   */
  function asBefore(
    before: CompiledMapping | undefined,
    source: Mapping,
    order: number,
    lines: MappingLines,
  ): CompiledMapping | null {
    if (!before || !sameLines(before, lines)) return null;
    if (before.source !== source && !alike(before.source, source)) return null;
    before.source = source;
    before.order = order;
    return before;
  }

  /** Takes over what `before` did last; what it held is ended. */
  function takeOver(before: CompiledMapping, after: CompiledMapping | undefined, now: number): void {
    if (after) {
      const { fired: times, lastHeard, lastShaped, lastAt } = before;
      Object.assign(after, { fired: times, lastHeard, lastShaped, lastAt });
      if (!before.reported) report(after);
    }
    end(before, now);
  }

  return {
    load(show, lineIndex, now) {
      clear();
      const before = byId;
      const mutedLines = new Set(show.lines.filter((line) => line.muted).map((line) => line.id));
      const offBanks = new Set(show.banks.filter((bank) => !bank.on).map((bank) => bank.id));
      const indexOf = (id: string | null): number => (id === null ? -1 : (lineIndex.get(id) ?? -1));
      const isMuted = (id: string | null): boolean => id !== null && mutedLines.has(id);
      const compiled: CompiledMapping[] = [];
      show.mappings.forEach((mapping, order) => {
        if (!mapping.on || (mapping.bankId !== null && offBanks.has(mapping.bankId))) return;
        const { hear, sends } = mapping;
        const lines = {
          inLine: isMuted(hear.lineId) ? -1 : indexOf(hear.lineId),
          outs: sends.map(({ lineId }) => ({ line: indexOf(lineId), muted: isMuted(lineId) })),
        };
        compiled.push(
          asBefore(before.get(mapping.id), mapping, order, lines) ??
            compileMapping(mapping, order, lines, seed),
        );
      });
      byId = new Map(compiled.map((mapping) => [mapping.source.id, mapping]));
      const gone = new Set<CompiledMapping>();
      for (const mapping of before.values()) {
        const after = byId.get(mapping.source.id);
        if (after === mapping) continue;
        gone.add(mapping);
        takeOver(mapping, after, now);
      }
      if (gone.size > 0) forget(gone);
      fired = fired.filter((mapping) => byId.get(mapping.source.id) === mapping);
      holders = compiled.filter((mapping) => mapping.holds || mapping.sends.some((send) => send.release));
      shifts = compiled.some((mapping) => mapping.shift >= 0);
      if (!shifts) down.clear();
      index = buildIndex(compiled);
      routes.load(show, indexOf, mutedLines, put);
      return outs;
    },

    step(line, signal, now) {
      clear();
      if (shifts) {
        if (signal.kind === 'noteOn') down.add((line << 11) | (signal.channel << 7) | signal.number);
        else if (signal.kind === 'noteOff') down.delete((line << 11) | (signal.channel << 7) | signal.number);
      }
      const heard = index.find(line, signal);
      for (let i = 0; i < heard.length; i++) fire(heard[i]!, signal, now);
      routes.pass(line, signal, now, put);
      return outs;
    },

    wakeAt: () => Math.min(agenda.nextAt(), routes.wakeAt()),

    wake(now) {
      clear();
      for (let later = agenda.take(now); later; later = agenda.take(now)) doLater(later, now);
      routes.wake(now, put);
      return outs;
    },

    tryMapping(id, pressed, now) {
      clear();
      const mapping = byId.get(id);
      if (!mapping) return outs;
      const { shape } = mapping.source;
      if (mapping.holds) hold(mapping, BY_HAND, pressed, shape.in[1], now);
      else if (pressed) emit(mapping, shape.in[1], now);
      else releaseSends(mapping, now);
      return outs;
    },

    panic(now) {
      clear();
      endAll(now);
      return outs;
    },

    lineGone(line, now) {
      clear();
      for (const key of down) if (key >> 11 === line) down.delete(key);
      const gone = new Set(holders.filter((mapping) => mapping.inLine === line && isHeld(mapping)));
      if (gone.size > 0) forget(gone);
      for (const mapping of gone) {
        const byHand = mapping.held.has(BY_HAND);
        mapping.held.clear();
        if (byHand) mapping.held.add(BY_HAND);
        else {
          mapping.held.add(BY_KEY); // for `end` to know that it was held
          end(mapping, now);
        }
      }
      routes.lineGone(line, put);
      return outs;
    },

    setArmed(next, now) {
      clear();
      // What was planned while the show was safe does not leave when it is armed.
      if (next && !armed) forget(null);
      if (!next) endAll(now);
      armed = next;
      return outs;
    },

    tellAll() {
      for (const mapping of byId.values()) if (mapping.fired > 0) report(mapping);
    },

    drainFired() {
      const list = fired;
      fired = [];
      for (const mapping of list) mapping.reported = true;
      return list;
    },

    cutRoutes: () => routes.cut(),
    restoreRoute: (id) => routes.restore(id),
  };
}

/** The first number among the arguments; 1 for a message without one. */
function numberIn(signal: OscSignal): number {
  for (const arg of signal.args) {
    if (arg.type === 'f' || arg.type === 'i' || arg.type === 'd') return arg.value;
    if (arg.type === 'h') return Number(arg.value);
    if (arg.type === 'F') return 0;
  }
  return 1;
}

/** Whether what leaves presses something that must be let go. */
const isDown = (signal: Signal): boolean =>
  signal.kind === 'noteOn' || (signal.kind === 'key' && signal.down);
