/**
 * The compiled mappings of a show, their banks and their index. Loads a whole show, or replaces one mapping. Mappings that have not changed keep
 * their state.
 */
import type { Bank, BankAct } from '../show/bank.js';
import { switchBank } from '../show/bank.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import {
  compileMapping,
  isStraight,
  withVoices,
  type CompiledMapping,
  type MappingLines,
} from './compiled.js';
import { createIndex, type MappingIndex } from './lookup.js';
import type { Outcome } from './outcome.js';

/** What a roster needs. */
export interface RosterStage {
  /** Discards everything that these mappings have planned. */
  forget(mappings: Iterable<CompiledMapping>): void;
  /** Releases everything that the mapping holds. */
  end(mapping: CompiledMapping, now: number): void;
  /** The mapping took over a tally that observers have not seen yet. */
  report(mapping: CompiledMapping): void;
  /** Something changed that the lamp of the mapping may show. */
  touch(mapping: CompiledMapping): void;
}

/** Finds the lines of a show. */
export interface LinePlaces {
  /** Returns the index of a line; -1 if it does not exist. */
  indexOf(id: string | null): number;
  isMuted(id: string | null): boolean;
}

/** @param lineIndex the index of each line, by its id */
export function placesOf({ lines }: Show, lineIndex: ReadonlyMap<string, number>): LinePlaces {
  const muted = new Set(lines.filter((line) => line.muted).map((line) => line.id));
  return {
    indexOf: (id) => (id === null ? -1 : (lineIndex.get(id) ?? -1)),
    isMuted: (id) => id !== null && muted.has(id),
  };
}

interface Replaced {
  before: CompiledMapping | null;
  after: CompiledMapping | null;
}

export interface Roster {
  /** Loads a show, or an edited version of the current one. @param listeners rows that other parts add: they come after all of the sheet */
  load(show: Show, listeners: readonly Mapping[], places: LinePlaces, now: number): void;
  /** Replaces the rows that other parts add. */
  takeListeners(listeners: readonly Mapping[], now: number): void;
  /** Compiles a row that `load` is going to be given, for these places: then `load` takes much less time. */
  prepare(row: Mapping, places: LinePlaces): void;
  /**
   * Replaces one mapping in place. The cost depends on that mapping, not on the size of the show.
   * @param order its place in the sheet. @returns the compiled mapping before and after; null for none
   */
  replace(row: Mapping, order: number, now: number): Replaced;
  index(): MappingIndex;
  get(id: string): CompiledMapping | undefined;
  all(): Iterable<CompiledMapping>;
  /** The mappings that can hold something. */
  holders(): readonly CompiledMapping[];
  /** Returns whether any mapping requires a note to be down. */
  wantsShift(): boolean;
  banksOn(): ReadonlySet<string>;
  turnBank(id: string, act: BankAct, now: number): void;
  /** Returns why a mapping that is not live does nothing. */
  whyNotLive(mapping: CompiledMapping): Outcome;
}

const alike = ({ hear, when, shape, sends }: Mapping, other: Mapping): boolean =>
  JSON.stringify([hear, when, shape, sends]) ===
  JSON.stringify([other.hear, other.when, other.shape, other.sends]);

const sameLines = (mapping: CompiledMapping, { inLine, outs: ends }: MappingLines): boolean =>
  mapping.inLine === inLine &&
  mapping.sends.length === ends.length &&
  mapping.sends.every((send, at) => send.line === ends[at]!.line && send.muted === ends[at]!.muted);

/** Returns the mapping that was compiled before, with its state, if it hears, shapes and sends the same; else null. */
function asBefore(
  before: CompiledMapping | undefined,
  source: Mapping,
  order: number,
  lines: MappingLines,
): CompiledMapping | null {
  if (!before || !sameLines(before, lines)) return null;
  if (before.source !== source && !alike(before.source, source)) return null;
  for (const one of withVoices(before)) {
    one.source = source;
    one.order = order;
    one.straight = isStraight(one);
  }
  return before;
}

const linesOf = ({ hear: { lineId }, sends }: Mapping, places: LinePlaces): MappingLines => ({
  inLine: places.isMuted(lineId) ? -1 : places.indexOf(lineId),
  outs: sends.map((send) => ({ line: places.indexOf(send.lineId), muted: places.isMuted(send.lineId) })),
});

/** The order of the rows that other parts add: after all mappings of the sheet. */
const AFTER_ALL = 1e9;
/** So many changed mappings are moved in the index one by one; with more it is built anew. */
const MOST_MOVED = 64;

const canHold = (mapping: CompiledMapping): boolean =>
  mapping.holds || mapping.sends.some((send) => send.releases.length > 0);

const banksOf = ({ bankId, when }: Mapping): Set<string> =>
  new Set([bankId, when.bankId].filter((id) => id !== null));

export function createRoster({ forget, end, report, touch }: RosterStage, seed: number): Roster {
  let byId = new Map<string, CompiledMapping>();
  let byBank = new Map<string, CompiledMapping[]>();
  let holders: CompiledMapping[] = [];
  let banks: readonly Bank[] = [];
  let banksOn: ReadonlySet<string> = new Set<string>();
  let shifts = false;
  let listeners: readonly Mapping[] = [];
  let index = createIndex();
  /** Rows that were compiled before they were loaded. */
  const prepared = new WeakMap<Mapping, CompiledMapping>();
  let places: LinePlaces = { indexOf: () => -1, isMuted: () => false };

  const isLive = (source: Mapping): boolean => [...banksOf(source)].every((id) => banksOn.has(id));

  /** Takes what was prepared for a row; compiles it if nothing was, or for other places. */
  function make(row: Mapping, order: number, lines: MappingLines): CompiledMapping {
    const ready = prepared.get(row);
    prepared.delete(row);
    if (!ready || !sameLines(ready, lines)) return compileMapping(row, order, lines, seed);
    ready.order = order;
    return ready;
  }

  function compile(row: Mapping, order: number): CompiledMapping {
    const lines = linesOf(row, places);
    const known = asBefore(byId.get(row.id), row, order, lines);
    if (known) return known;
    const made = make(row, order, lines);
    made.live = isLive(row);
    return made;
  }

  /** Copies the tally of `before` to `after`, and ends what `before` holds. */
  function takeOver(before: CompiledMapping, after: CompiledMapping | undefined, now: number): void {
    if (after) {
      const { fired, lastHeard, lastShaped, lastAt, reported } = before.tally;
      Object.assign(after.tally, { fired, lastHeard, lastShaped, lastAt });
      if (!reported) report(after);
    }
    for (const one of withVoices(before)) end(one, now);
  }

  /** Follows the banks: a mapping that is switched off ends; one that is switched on waits for its control to be picked up. */
  function setLive(mapping: CompiledMapping, now: number): void {
    const live = isLive(mapping.source);
    if (live === mapping.live) return;
    mapping.live = live;
    touch(mapping);
    if (live) {
      for (const one of withVoices(mapping)) one.shaper.resume();
      return;
    }
    forget([mapping]);
    for (const one of withVoices(mapping)) end(one, now);
  }

  function joinBanks(mapping: CompiledMapping): void {
    for (const id of banksOf(mapping.source)) {
      const list = byBank.get(id);
      if (list) list.push(mapping);
      else byBank.set(id, [mapping]);
    }
  }

  function replace(row: Mapping, order: number, now: number): Replaced {
    const before = byId.get(row.id) ?? null;
    const banksBefore = before ? banksOf(before.source) : [];
    const after = row.on ? compile(row, order) : null;
    for (const id of banksBefore)
      byBank.set(
        id,
        byBank.get(id)!.filter((one) => one !== before),
      );
    if (after) {
      byId.set(row.id, after);
      joinBanks(after);
    } else byId.delete(row.id);
    if (after === before) {
      if (after) setLive(after, now);
      return { before, after };
    }
    if (before) {
      takeOver(before, after ?? undefined, now);
      forget([before]);
      index.remove(before);
      holders = holders.filter((one) => one !== before);
    }
    if (after) {
      index.add(after);
      if (canHold(after)) holders.push(after);
      shifts ||= after.shift >= 0;
    }
    return { before, after };
  }

  return {
    prepare(row, where) {
      const lines = linesOf(row, where);
      const known = byId.get(row.id);
      const stays = known?.source === row && sameLines(known, lines);
      if (!stays) prepared.set(row, compileMapping(row, 0, lines, seed));
    },
    load(show, added, where, now) {
      const before = byId;
      places = where;
      ({ banks } = show);
      banksOn = new Set(banks.filter((bank) => bank.on).map((bank) => bank.id));
      listeners = added;
      const compiled: CompiledMapping[] = [];
      const come: CompiledMapping[] = [];
      let lastOrder = -1;
      let moved = false;
      const take = (row: Mapping, order: number): void => {
        if (!row.on) return;
        const known = before.get(row.id);
        const orderBefore = known?.order ?? lastOrder;
        const mapping = compile(row, order);
        compiled.push(mapping);
        if (mapping !== known) return void come.push(mapping);
        moved ||= orderBefore < lastOrder;
        lastOrder = orderBefore;
      };
      show.mappings.forEach(take);
      added.forEach((row, at) => take(row, AFTER_ALL + at));
      byId = new Map(compiled.map((mapping) => [mapping.source.id, mapping]));
      const gone = new Set<CompiledMapping>();
      for (const mapping of before.values()) {
        const after = byId.get(mapping.source.id);
        if (after === mapping) continue;
        gone.add(mapping);
        takeOver(mapping, after, now);
      }
      if (gone.size > 0) forget(gone);
      for (const mapping of compiled) setLive(mapping, now);
      byBank = new Map();
      for (const mapping of compiled) joinBanks(mapping);
      holders = compiled.filter(canHold);
      shifts = compiled.some((mapping) => mapping.shift >= 0);
      if (moved || gone.size + come.length > MOST_MOVED) {
        index = createIndex();
        for (const mapping of compiled) index.add(mapping);
        return;
      }
      for (const mapping of gone) index.remove(mapping);
      for (const mapping of come) index.add(mapping);
    },

    takeListeners(next, now) {
      const kept = new Set(next.map(({ id }) => id));
      for (const row of listeners) if (!kept.has(row.id)) replace({ ...row, on: false }, AFTER_ALL, now);
      next.forEach((row, at) => replace(row, AFTER_ALL + at, now));
      listeners = next;
    },

    replace,

    index: () => index,
    get: (id) => byId.get(id),
    all: () => byId.values(),
    holders: () => holders,
    wantsShift: () => shifts,
    banksOn: () => banksOn,
    turnBank(id, act, now) {
      const before = banksOn;
      banksOn = switchBank(banks, (bank) => before.has(bank), id, act);
      for (const bank of banks) {
        if (before.has(bank.id) === banksOn.has(bank.id)) continue;
        for (const mapping of byBank.get(bank.id) ?? []) setLive(mapping, now);
      }
    },
    whyNotLive: ({ source: { bankId } }) =>
      bankId !== null && !banksOn.has(bankId) ? 'bankOff' : 'whileBank',
  };
}
