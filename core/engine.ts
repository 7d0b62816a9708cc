/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import { compileMapping, type CompiledMapping, type MappingLines } from './mapping/compiled.js';
import { buildIndex, type MappingIndex } from './mapping/lookup.js';
import { createPerformer } from './mapping/performer.js';
import { createPatchBay } from './routes/patch-bay.js';
import type { Signal } from './signal.js';
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

/** @param seed the same seed gives the same dice */
export function createEngine(seed = 1): Engine {
  const outs: Outs = { count: 0, line: [], signal: [], sender: [], heldBack: [] };
  const routes = createPatchBay();
  const performer = createPerformer({ put, report, armed: () => armed, isDown: (key) => down.has(key) });
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

  function clear(): Outs {
    outs.count = 0;
    return outs;
  }

  function endAll(now: number): void {
    performer.forget(byId.values());
    for (const mapping of holders) performer.end(mapping, now);
    routes.releaseAll(put);
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
    performer.end(before, now);
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
      if (gone.size > 0) performer.forget(gone);
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
      for (let i = 0; i < heard.length; i++) performer.fire(heard[i]!, signal, now);
      routes.pass(line, signal, now, put);
      return outs;
    },

    wakeAt: () => Math.min(performer.wakeAt(), routes.wakeAt()),

    wake(now) {
      clear();
      performer.wake(now);
      routes.wake(now, put);
      return outs;
    },

    tryMapping(id, pressed, now) {
      clear();
      const mapping = byId.get(id);
      if (mapping) performer.byHand(mapping, pressed, now);
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
      const gone = holders.filter((mapping) => mapping.inLine === line && performer.isHeld(mapping));
      performer.unheard(new Set(gone), now);
      routes.lineGone(line, put);
      return outs;
    },

    setArmed(next, now) {
      clear();
      // What was planned while the show was safe does not leave when it is armed.
      if (next && !armed) performer.forget(byId.values());
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
