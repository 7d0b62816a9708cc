/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import { compileMapping, type CompiledMapping, type MappingLines } from './mapping/compiled.js';
import { wantsValue } from './mapping/hear.js';
import { buildIndex, type MappingIndex } from './mapping/lookup.js';
import { createPatchBay } from './routes/patch-bay.js';
import type { OscSignal, Signal } from './signal.js';
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

export function createEngine(): Engine {
  const outs: Outs = { count: 0, line: [], signal: [], sender: [], heldBack: [] };
  const routes = createPatchBay();
  let byId = new Map<string, CompiledMapping>();
  let holders: CompiledMapping[] = []; // mappings that can hold
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

  function emit(mapping: CompiledMapping, heard: number, now: number): void {
    const shaped = mapping.shape(heard);
    mapping.fired++;
    mapping.lastHeard = heard;
    mapping.lastShaped = shaped;
    mapping.lastAt = now;
    report(mapping);
    if (!mapping.send.fill(shaped)) return;
    const { signal, release } = mapping.send;
    put(mapping.outLine, signal, mapping.source.id, mapping.outMuted);
    if (!release) return;
    mapping.sounding = isDown(signal);
    // A key whose release is never heard is let go at once.
    if (mapping.sounding && signal.kind === 'key' && !mapping.holds) stop(mapping);
  }

  /** Sends the release of what sounds. */
  function stop(mapping: CompiledMapping): void {
    mapping.sounding = false;
    put(mapping.outLine, mapping.send.release!, mapping.source.id, mapping.outMuted);
  }

  /** The released value of a mapping is what the low end of its range is shaped into; what sounds is let go. */
  function release(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    if (!mapping.send.release) return emit(mapping, mapping.source.shape.in[0], now);
    mapping.lastAt = now;
    report(mapping);
    if (mapping.sounding) stop(mapping);
  }

  function hold(mapping: CompiledMapping, key: number, pressed: boolean, heard: number, now: number): void {
    if (pressed) {
      if (armed && !mapping.outMuted) mapping.held.add(key);
      emit(mapping, heard, now);
    } else if (mapping.held.delete(key) && mapping.held.size === 0) release(mapping, now);
    else if (!armed || mapping.outMuted) emit(mapping, mapping.source.shape.in[0], now);
  }

  function fire(mapping: CompiledMapping, signal: Signal, now: number): void {
    switch (signal.kind) {
      case 'osc':
        return emit(mapping, numberIn(signal), now);
      case 'slot':
        if (wantsValue(mapping.source.hear, signal.level))
          emit(mapping, mapping.usesNumber ? signal.slot : signal.level, now);
        return;
      case 'key':
        if (mapping.holds) hold(mapping, BY_KEY, signal.down, 1, now);
        else if (signal.down) emit(mapping, 1, now);
        return;
      case 'sysex':
      case 'system':
        return;
      default: {
        const heard = mapping.usesNumber ? signal.number : signal.value;
        const { hear } = mapping.source;
        if (!mapping.holds) {
          if (wantsValue(hear, signal.value)) emit(mapping, heard, now);
          return;
        }
        const pressed = signal.kind === 'noteOn';
        if (pressed && !wantsValue(hear, signal.value)) return;
        hold(mapping, (signal.channel << 7) | signal.number, pressed, heard, now);
      }
    }
  }

  function begin(): Outs {
    outs.count = 0;
    return outs;
  }

  const isHeld = (mapping: CompiledMapping): boolean => mapping.held.size > 0 || mapping.sounding;

  function releaseAll(now: number): void {
    for (const mapping of holders) if (isHeld(mapping)) release(mapping, now);
    routes.releaseAll(put);
  }

  /** Whether a mapping after a change is still the one that holds: heard, shaped and sent in the same way. */
  function sameHold(before: CompiledMapping, after: CompiledMapping): boolean {
    if (before.inLine !== after.inLine || before.outLine !== after.outLine) return false;
    if (before.outMuted !== after.outMuted) return false;
    if (before.source === after.source) return true;
    const { hear, shape, send } = before.source;
    const other = after.source;
    return JSON.stringify([hear, shape, send]) === JSON.stringify([other.hear, other.shape, other.send]);
  }

  /** The mapping as it was compiled before, if nothing of it changed: most of a show stays when one row is edited. */
  function asBefore(
    before: CompiledMapping | undefined,
    source: Mapping,
    order: number,
    lines: MappingLines,
  ): CompiledMapping | null {
    if (!before || before.source !== source || before.inLine !== lines.inLine) return null;
    if (before.outLine !== lines.outLine || before.outMuted !== lines.outMuted) return null;
    before.order = order;
    return before;
  }

  /** Takes over what `before` did last, and what it holds if it is still the same; what is not held on is released. */
  function takeOver(before: CompiledMapping, after: CompiledMapping | undefined, now: number): void {
    if (after) {
      const { fired: times, lastHeard, lastShaped, lastAt } = before;
      Object.assign(after, { fired: times, lastHeard, lastShaped, lastAt });
      if (!before.reported) report(after);
    }
    if (!isHeld(before)) return;
    if (after && sameHold(before, after)) {
      after.held = before.held;
      after.sounding = before.sounding;
    } else release(before, now);
  }

  return {
    load(show, lineIndex, now) {
      begin();
      const before = byId;
      const mutedLines = new Set(show.lines.filter((line) => line.muted).map((line) => line.id));
      const offBanks = new Set(show.banks.filter((bank) => !bank.on).map((bank) => bank.id));
      const indexOf = (id: string | null): number => (id === null ? -1 : (lineIndex.get(id) ?? -1));
      const isMuted = (id: string | null): boolean => id !== null && mutedLines.has(id);
      const compiled: CompiledMapping[] = [];
      show.mappings.forEach((mapping, order) => {
        if (!mapping.on || (mapping.bankId !== null && offBanks.has(mapping.bankId))) return;
        const { hear, send } = mapping;
        const lines = {
          inLine: isMuted(hear.lineId) ? -1 : indexOf(hear.lineId),
          outLine: indexOf(send.lineId),
          outMuted: isMuted(send.lineId),
        };
        compiled.push(
          asBefore(before.get(mapping.id), mapping, order, lines) ?? compileMapping(mapping, order, lines),
        );
      });
      byId = new Map(compiled.map((mapping) => [mapping.source.id, mapping]));
      for (const mapping of before.values()) {
        const after = byId.get(mapping.source.id);
        if (after !== mapping) takeOver(mapping, after, now);
      }
      fired = fired.filter((mapping) => byId.get(mapping.source.id) === mapping);
      holders = compiled.filter((mapping) => mapping.holds || mapping.send.release !== null);
      index = buildIndex(compiled);
      routes.load(show, indexOf, mutedLines, put);
      return outs;
    },

    step(line, signal, now) {
      begin();
      const heard = index.find(line, signal);
      for (let i = 0; i < heard.length; i++) fire(heard[i]!, signal, now);
      routes.pass(line, signal, now, put);
      return outs;
    },

    wakeAt: () => routes.wakeAt(),

    wake(now) {
      begin();
      routes.wake(now, put);
      return outs;
    },

    tryMapping(id, pressed, now) {
      begin();
      const mapping = byId.get(id);
      if (!mapping) return outs;
      const { shape } = mapping.source;
      if (mapping.holds) hold(mapping, BY_HAND, pressed, shape.in[1], now);
      else if (pressed) emit(mapping, shape.in[1], now);
      else if (mapping.sounding) release(mapping, now);
      return outs;
    },

    panic(now) {
      begin();
      releaseAll(now);
      return outs;
    },

    lineGone(line, now) {
      begin();
      for (const mapping of holders) {
        if (mapping.inLine !== line || !isHeld(mapping)) continue;
        const byHand = mapping.held.has(BY_HAND);
        mapping.held.clear();
        if (byHand) mapping.held.add(BY_HAND);
        else release(mapping, now);
      }
      routes.lineGone(line, put);
      return outs;
    },

    setArmed(next, now) {
      begin();
      if (!next) releaseAll(now);
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
