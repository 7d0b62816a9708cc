/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import { compileMapping, type CompiledMapping, type MappingLines } from './mapping/compiled.js';
import { wantsValue } from './mapping/hear.js';
import { buildIndex, type MappingIndex } from './mapping/lookup.js';
import type { OscSignal, Signal } from './signal.js';
import type { Mapping, Show } from './show.js';

/**
 * What leaves because of one input: the first `count` of each list, in the order in which it must leave.
 * The lists are used again for the next input: act on them before it.
 */
export interface Outs {
  count: number;
  /** Index of the line to send on; -1 where the mapping's line is not there. */
  line: number[];
  signal: OscSignal[];
  mapping: CompiledMapping[];
  /** True for what is only shown: the show is safe, or the line muted. */
  heldBack: boolean[];
}

export interface Engine {
  /**
   * Takes a show, or the same show changed. What a mapping held that is no longer there, or no longer
   * the same, is released. Costs time in proportion to the show; signals don't.
   * @param lineIndex the number of each line that exists, by its id.
   */
  load(show: Show, lineIndex: ReadonlyMap<string, number>, now: number): Outs;
  /** A signal heard on a line. @param now monotonic ms */
  step(line: number, signal: Signal, now: number): Outs;
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
}

/** In a mapping's held notes: held by hand, not by a note. */
const BY_HAND = -1;

export function createEngine(): Engine {
  const outs: Outs = { count: 0, line: [], signal: [], mapping: [], heldBack: [] };
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

  function emit(mapping: CompiledMapping, heard: number, now: number): void {
    const shaped = mapping.shape(heard);
    mapping.fill(shaped);
    mapping.fired++;
    mapping.lastHeard = heard;
    mapping.lastShaped = shaped;
    mapping.lastAt = now;
    report(mapping);
    const at = outs.count++;
    outs.line[at] = mapping.outLine;
    outs.signal[at] = mapping.signal;
    outs.mapping[at] = mapping;
    outs.heldBack[at] = !armed || mapping.outMuted;
  }

  /** The released value of a mapping is what the low end of its range is shaped into. */
  function release(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    emit(mapping, mapping.source.shape.in[0], now);
  }

  function hold(mapping: CompiledMapping, key: number, pressed: boolean, heard: number, now: number): void {
    if (pressed) {
      if (armed && !mapping.outMuted) mapping.held.add(key);
      emit(mapping, heard, now);
    } else if (mapping.held.delete(key) && mapping.held.size === 0) release(mapping, now);
    else if (!armed || mapping.outMuted) emit(mapping, mapping.source.shape.in[0], now);
  }

  function numberIn(signal: OscSignal): number {
    for (const arg of signal.args) {
      if (arg.type === 'f' || arg.type === 'i' || arg.type === 'd') return arg.value;
      if (arg.type === 'h') return Number(arg.value);
      if (arg.type === 'F') return 0;
    }
    return 1;
  }

  function fire(mapping: CompiledMapping, signal: Signal, now: number): void {
    if (signal.kind === 'osc') emit(mapping, numberIn(signal), now);
    else if ('channel' in signal) {
      const heard = mapping.usesNumber ? signal.number : signal.value;
      const { hear } = mapping.source;
      if (hear.message === 'held') {
        const pressed = signal.kind === 'noteOn';
        if (pressed && !wantsValue(hear, signal.value)) return;
        hold(mapping, (signal.channel << 7) | signal.number, pressed, heard, now);
      } else if (wantsValue(hear, signal.value)) emit(mapping, heard, now);
    }
  }

  function begin(): Outs {
    outs.count = 0;
    return outs;
  }

  function releaseAll(now: number): void {
    for (const mapping of holders) if (mapping.held.size > 0) release(mapping, now);
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
        if (after === mapping) continue;
        if (after) {
          const { fired: times, lastHeard, lastShaped, lastAt } = mapping;
          Object.assign(after, { fired: times, lastHeard, lastShaped, lastAt });
          if (!mapping.reported) report(after);
        }
        if (mapping.held.size === 0) continue;
        if (after && sameHold(mapping, after)) after.held = mapping.held;
        else release(mapping, now);
      }
      fired = fired.filter((mapping) => byId.get(mapping.source.id) === mapping);
      holders = compiled.filter((mapping) => mapping.source.hear.message === 'held');
      index = buildIndex(compiled);
      return outs;
    },

    step(line, signal, now) {
      begin();
      const heard = index.find(line, signal);
      for (let i = 0; i < heard.length; i++) fire(heard[i]!, signal, now);
      return outs;
    },

    tryMapping(id, pressed, now) {
      begin();
      const mapping = byId.get(id);
      if (!mapping) return outs;
      const { hear, shape } = mapping.source;
      if (hear.message === 'held') hold(mapping, BY_HAND, pressed, shape.in[1], now);
      else if (pressed) emit(mapping, shape.in[1], now);
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
        if (mapping.inLine !== line || mapping.held.size === 0) continue;
        const byHand = mapping.held.has(BY_HAND);
        mapping.held.clear();
        if (byHand) mapping.held.add(BY_HAND);
        else release(mapping, now);
      }
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
  };
}
