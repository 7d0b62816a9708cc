/**
 * The mappings of a show at work: which there are, whether their banks are on, and who hears what. A show is taken whole, or one mapping
 * of it is changed; what stayed the same keeps what it holds and does.
 */
import type { Bank, BankAct } from '../show/bank.js';
import { switchBank } from '../show/bank.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import { compileMapping, withVoices, type CompiledMapping, type MappingLines } from './compiled.js';
import { createIndex, type MappingIndex } from './lookup.js';
import type { Outcome } from './outcome.js';

/** What a roster asks of whoever has it. */
export interface RosterStage {
  /** What these mappings have planned is forgotten. */
  forget(mappings: Iterable<CompiledMapping>): void;
  /** What the mapping holds is let go, and what sounds is released. */
  end(mapping: CompiledMapping, now: number): void;
  /** It took over what another one did last, which people have not been told yet. */
  report(mapping: CompiledMapping): void;
  /** Something about it changed that its lamp may show. */
  touch(mapping: CompiledMapping): void;
}

/** Where the lines of a show are. */
export interface LinePlaces {
  /** -1 for a line that is not there. */
  indexOf(id: string | null): number;
  isMuted(id: string | null): boolean;
}

export interface Roster {
  /** Takes a show, or the same show changed. */
  load(show: Show, places: LinePlaces, now: number): void;
  /**
   * One mapping is other than it was, in the same place of the sheet. Costs what the mapping is, not what the show has.
   * @param order its place in the sheet. @returns what was in its place, and what is now; null for nothing
   */
  replace(
    row: Mapping,
    order: number,
    now: number,
  ): { before: CompiledMapping | null; after: CompiledMapping | null };
  index(): MappingIndex;
  get(id: string): CompiledMapping | undefined;
  all(): Iterable<CompiledMapping>;
  /** Those that can hold something. */
  holders(): readonly CompiledMapping[];
  /** Whether some mapping wants a note to be down. */
  wantsShift(): boolean;
  banksOn(): ReadonlySet<string>;
  turnBank(id: string, act: BankAct, now: number): void;
  /** Why a mapping that is not live does nothing. */
  whyNotLive(mapping: CompiledMapping): Outcome;
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
  for (const one of withVoices(before)) {
    one.source = source;
    one.order = order;
  }
  return before;
}

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
  let index = createIndex();
  let places: LinePlaces = { indexOf: () => -1, isMuted: () => false };

  const isLive = (source: Mapping): boolean => [...banksOf(source)].every((id) => banksOn.has(id));

  function compile(row: Mapping, order: number): CompiledMapping {
    const { lineId } = row.hear;
    const lines = {
      inLine: places.isMuted(lineId) ? -1 : places.indexOf(lineId),
      outs: row.sends.map((send) => ({
        line: places.indexOf(send.lineId),
        muted: places.isMuted(send.lineId),
      })),
    };
    const known = asBefore(byId.get(row.id), row, order, lines);
    if (known) return known;
    const made = compileMapping(row, order, lines, seed);
    made.live = isLive(row);
    return made;
  }

  /** Takes over what `before` did last; what it held is ended. */
  function takeOver(before: CompiledMapping, after: CompiledMapping | undefined, now: number): void {
    if (after) {
      const { fired, lastHeard, lastShaped, lastAt, reported } = before.tally;
      Object.assign(after.tally, { fired, lastHeard, lastShaped, lastAt });
      if (!reported) report(after);
    }
    for (const one of withVoices(before)) end(one, now);
  }

  /** What a mapping holds ends when its bank goes; what is to be picked up waits when it comes. */
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

  return {
    load(show, where, now) {
      const before = byId;
      places = where;
      ({ banks } = show);
      banksOn = new Set(banks.filter((bank) => bank.on).map((bank) => bank.id));
      const compiled = show.mappings.flatMap((row, order) => (row.on ? [compile(row, order)] : []));
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
      index = createIndex();
      for (const mapping of compiled) index.add(mapping);
    },

    replace(row, order, now) {
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
    },

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
