/**
 * The compiled mappings of a show, their banks and their index. Loads a whole show, or replaces one mapping. Mappings that have not changed keep
 * their state.
 */
import type { Bank, BankAct } from '../show/bank.js';
import { switchBank } from '../show/bank.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import { compileMapping, withVoices, type CompiledMapping } from './compiled.js';
import { NO_PLACES, type LinePlaces } from './line-places.js';
import { createIndex, type MappingIndex } from './lookup.js';
import type { Outcome } from './outcome.js';
import {
  AFTER_ALL,
  banksOf,
  canHold,
  isAsBefore,
  joinBanks,
  linesOf,
  makeReady,
  sameRows,
  takeRow,
  type Ready,
} from './ready.js';

/** What a roster needs. */
export interface RosterStage {
  /** Discards everything that these mappings have planned. */
  forget(mappings: ReadonlySet<CompiledMapping>): void;
  /** Releases everything that the mapping holds. */
  end(mapping: CompiledMapping, now: number): void;
  /** The mapping took over a tally that observers have not seen yet. */
  report(mapping: CompiledMapping): void;
  /** Something changed that the lamp of the mapping may show. */
  touch(mapping: CompiledMapping): void;
}

interface Replaced {
  before: CompiledMapping | null;
  after: CompiledMapping | null;
}

export interface Roster {
  /** Loads a show, or an edited version of the current one. @param listeners rows that other parts add: they come after all of the sheet */
  load(show: Show, listeners: readonly Mapping[], places: LinePlaces, now: number): void;
  /** Compiles what `load` is going to be given, a row with each step: then `load` takes much less time. It changes nothing that can be seen. */
  prepare(show: Show, listeners: readonly Mapping[], places: LinePlaces): Generator<void>;
  /** Replaces the rows that other parts add. */
  takeListeners(listeners: readonly Mapping[], now: number): void;
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

export function createRoster({ forget, end, report, touch }: RosterStage, seed: number): Roster {
  let byId = new Map<string, CompiledMapping>();
  let byBank = new Map<string, CompiledMapping[]>();
  let holders: CompiledMapping[] = [];
  let banks: readonly Bank[] = [];
  let banksOn: ReadonlySet<string> = new Set<string>();
  let shifts = false;
  let listeners: readonly Mapping[] = [];
  let index = createIndex();
  let ready: Ready | null = null;
  /** Counts changes of what is compiled. What was made ready for an earlier one is out of date. */
  let version = 0;
  let places = NO_PLACES;

  const isLive = ({ bankId, when }: Mapping): boolean =>
    (bankId === null || banksOn.has(bankId)) && (when.bankId === null || banksOn.has(when.bankId));

  function compile(row: Mapping, order: number): CompiledMapping {
    const lines = linesOf(row, places);
    const known = byId.get(row.id);
    if (known && isAsBefore(known, row, lines)) {
      takeRow(known, row, order);
      return known;
    }
    const made = compileMapping(row, order, lines, seed);
    made.live = isLive(row);
    return made;
  }

  function takeTally({ tally }: CompiledMapping, after: CompiledMapping): void {
    const { fired, lastHeard, lastShaped, lastAt, reported } = tally;
    Object.assign(after.tally, { fired, lastHeard, lastShaped, lastAt });
    if (!reported) report(after);
  }

  function endAll(mapping: CompiledMapping, now: number): void {
    for (const one of withVoices(mapping)) end(one, now);
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
    forget(new Set([mapping]));
    endAll(mapping, now);
  }

  /** Returns what was made ready for exactly this, or makes it now. */
  function readyFor(mappings: readonly Mapping[], added: readonly Mapping[], where: LinePlaces): Ready {
    const known = ready;
    ready = null;
    const isForThis =
      known?.version === version &&
      known.places.key === where.key &&
      known.mappings === mappings &&
      sameRows(known.listeners, added);
    if (isForThis) return known;
    const making = makeReady(mappings, added, where, { byId, version, seed });
    for (;;) {
      const step = making.next();
      if (step.done) return step.value;
    }
  }

  function replace(row: Mapping, order: number, now: number): Replaced {
    const before = byId.get(row.id) ?? null;
    const banksBefore = before ? banksOf(before.source) : [];
    version++;
    const after = row.on ? compile(row, order) : null;
    for (const id of banksBefore)
      byBank.set(
        id,
        byBank.get(id)!.filter((one) => one !== before),
      );
    if (after) {
      byId.set(row.id, after);
      joinBanks(after, row, byBank);
    } else byId.delete(row.id);
    if (after === before) {
      if (after) setLive(after, now);
      return { before, after };
    }
    if (before) {
      if (after) takeTally(before, after);
      endAll(before, now);
      forget(new Set([before]));
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
    *prepare({ mappings }, added, where) {
      ready = null;
      ready = yield* makeReady(mappings, added, where, { byId, version, seed });
    },
    load(show, added, where, now) {
      const next = readyFor(show.mappings, added, where);
      version++;
      places = where;
      ({ banks } = show);
      banksOn = new Set(banks.filter((bank) => bank.on).map((bank) => bank.id));
      listeners = added;
      for (const { before, after } of next.replaced) takeTally(before, after);
      // Only these can hold or sound.
      for (const mapping of holders) if (next.gone.has(mapping)) endAll(mapping, now);
      if (next.gone.size > 0) forget(next.gone);
      ({ byId, byBank, holders, shifts } = next);
      for (const { mapping, row, order } of next.renewed) {
        takeRow(mapping, row, order);
        setLive(mapping, now);
      }
      const come = new Set(next.come);
      for (const mappings of byBank.values())
        for (const mapping of mappings)
          if (come.has(mapping)) mapping.live = isLive(mapping.source);
          else setLive(mapping, now);
      if (next.index) index = next.index;
      else {
        for (const mapping of next.gone) index.remove(mapping);
        for (const mapping of next.come) index.add(mapping);
      }
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
