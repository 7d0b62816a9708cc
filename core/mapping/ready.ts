/** Makes the mappings of a show ready before it is loaded, so that loading it takes little time. Mappings that have not changed keep their state. */
import type { Mapping } from '../show/mapping.js';
import {
  compileMapping,
  isStraight,
  withVoices,
  type CompiledMapping,
  type MappingLines,
} from './compiled.js';
import type { LinePlaces } from './line-places.js';
import { createIndex, type MappingIndex } from './lookup.js';

/** The mappings of a show that is going to be loaded. */
export interface Ready {
  mappings: readonly Mapping[];
  listeners: readonly Mapping[];
  places: LinePlaces;
  /** The version of the roster that it was made for. */
  version: number;
  /** Those that were there before, and have another row or another place in the sheet now. */
  renewed: { mapping: CompiledMapping; row: Mapping; order: number }[];
  byId: Map<string, CompiledMapping>;
  byBank: Map<string, CompiledMapping[]>;
  holders: CompiledMapping[];
  shifts: boolean;
  /** Those that were not there before; those that were; and of these, what those that are replaced are replaced with. */
  come: CompiledMapping[];
  gone: Set<CompiledMapping>;
  replaced: { before: CompiledMapping; after: CompiledMapping }[];
  /** Null where the index of before is changed a little. */
  index: MappingIndex | null;
}

/** What a show is made ready for. */
export interface ReadyFor {
  /** The mappings that are there, by id. */
  byId: ReadonlyMap<string, CompiledMapping>;
  version: number;
  /** Of the random numbers. */
  seed: number;
}

const alike = ({ hear, when, shape, sends }: Mapping, other: Mapping): boolean =>
  JSON.stringify([hear, when, shape, sends]) ===
  JSON.stringify([other.hear, other.when, other.shape, other.sends]);

const sameLines = (mapping: CompiledMapping, { inLine, outs: ends }: MappingLines): boolean =>
  mapping.inLine === inLine &&
  mapping.sends.length === ends.length &&
  mapping.sends.every((send, at) => send.line === ends[at]!.line && send.muted === ends[at]!.muted);

/** Whether what was compiled before, with its state, hears, shapes and sends as this row does. */
export const isAsBefore = (before: CompiledMapping, row: Mapping, lines: MappingLines): boolean =>
  sameLines(before, lines) && (before.source === row || alike(before.source, row));

/** Gives a mapping that was compiled before the row that it has now. */
export function takeRow(mapping: CompiledMapping, row: Mapping, order: number): void {
  if (mapping.source === row && mapping.order === order) return;
  for (const one of withVoices(mapping)) {
    one.source = row;
    one.order = order;
    one.straight = isStraight(one);
  }
}

export const linesOf = ({ hear: { lineId }, sends }: Mapping, places: LinePlaces): MappingLines => ({
  inLine: places.isMuted(lineId) ? -1 : places.indexOf(lineId),
  outs: sends.map((send) => ({ line: places.indexOf(send.lineId), muted: places.isMuted(send.lineId) })),
});

/** The order of the rows that other parts add: after all mappings of the sheet. */
export const AFTER_ALL = 1e9;
/** So many changed mappings are moved in the index one by one; with more it is built anew. */
const MOST_MOVED = 64;

export const canHold = (mapping: CompiledMapping): boolean =>
  mapping.holds || mapping.sends.some((send) => send.releases.length > 0);

export const banksOf = ({ bankId, when }: Mapping): string[] =>
  [bankId, when.bankId === bankId ? null : when.bankId].filter((id) => id !== null);

export const sameRows = (rows: readonly Mapping[], others: readonly Mapping[]): boolean =>
  rows === others || (rows.length === others.length && rows.every((row, at) => row === others[at]));

export function joinBanks(
  mapping: CompiledMapping,
  row: Mapping,
  byBank: Map<string, CompiledMapping[]>,
): void {
  for (const id of banksOf(row)) {
    const list = byBank.get(id);
    if (list) list.push(mapping);
    else byBank.set(id, [mapping]);
  }
}

/** Compiles the mappings of a show, a row with each step. Changes nothing of what is there. @param listeners rows that other parts add */
export function* makeReady(
  mappings: readonly Mapping[],
  listeners: readonly Mapping[],
  places: LinePlaces,
  { byId: before, version, seed }: ReadyFor,
): Generator<void, Ready> {
  const made: Ready = {
    mappings,
    listeners,
    places,
    version,
    renewed: [],
    byId: new Map(),
    byBank: new Map(),
    holders: [],
    shifts: false,
    come: [],
    gone: new Set(),
    replaced: [],
    index: null,
  };
  let lastOrder = -1;
  let moved = false;
  const rows = [mappings, listeners].flatMap((list, at) =>
    list.map((row, place) => ({ row, order: at * AFTER_ALL + place })),
  );
  for (const { row, order } of rows) {
    if (!row.on) continue;
    const lines = linesOf(row, places);
    const known = before.get(row.id);
    const stays = known && isAsBefore(known, row, lines);
    const mapping = stays ? known : compileMapping(row, order, lines, seed);
    made.byId.set(row.id, mapping);
    joinBanks(mapping, row, made.byBank);
    if (canHold(mapping)) made.holders.push(mapping);
    made.shifts ||= mapping.shift >= 0;
    if (stays) {
      moved ||= known.order < lastOrder;
      lastOrder = known.order;
      if (known.source !== row || known.order !== order) made.renewed.push({ mapping, row, order });
    } else made.come.push(mapping);
    yield;
  }
  for (const mapping of before.values()) {
    const after = made.byId.get(mapping.source.id);
    if (after === mapping) continue;
    made.gone.add(mapping);
    if (after) made.replaced.push({ before: mapping, after });
  }
  if (moved || made.gone.size + made.come.length > MOST_MOVED) {
    made.index = createIndex();
    for (const mapping of made.byId.values()) {
      made.index.append(mapping);
      yield;
    }
  }
  return made;
}
