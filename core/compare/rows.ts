/**
 * Compares two states of a show row by row: which rows were added, removed, moved or changed, and which members of a row differ. Rows are the same
 * if their ids are.
 */
import { shiftChannels } from '../typed/file-channels.js';
import { SENDS, sendTitle, type Send } from '../sends.js';
import type { Show } from '../show.js';
import { TABLE_NAMES, type TableName } from '../show/tables.js';
import { rowName } from './row-name.js';

export interface RowDifference {
  table: TableName | 'settings';
  id: string;
  /** What the row is called, by the newer state if it is in both. */
  name: string;
  what: 'added' | 'removed' | 'changed' | 'moved';
  /** What differs in it, for `changed`. The first `MOST_MEMBERS`. */
  members: MemberDifference[];
}

export interface MemberDifference {
  /** `shape, out 2`, `hear, channels` */
  member: string;
  before: string;
  after: string;
}

/** How many differences of one row are listed. */
export const MOST_MEMBERS = 24;
const LONGEST_VALUE = 80;

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** The ids that keep their order; the others have moved. Takes the longest rising sequence of the old places. */
function unmoved(places: readonly number[]): Set<number> {
  // tails[n]: the place in `places` at which the best sequence of n + 1 ends.
  const tails: number[] = [];
  const before: (number | null)[] = [];
  places.forEach((place, at) => {
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (places[tails[middle]!]! < place) low = middle + 1;
      else high = middle;
    }
    before[at] = low > 0 ? tails[low - 1]! : null;
    tails[low] = at;
  });
  const kept = new Set<number>();
  for (let at: number | null = tails.at(-1) ?? null; at !== null; at = before[at] ?? null) kept.add(at);
  return kept;
}

/** `lengthMs` as `length ms` */
const plainName = (member: string): string =>
  member.replace(/[A-Z]+/g, (letters) => ` ${letters.toLowerCase()}`);

/** Members that hold an id are named without it: `lineId` as `line`. */
const ID = /Id$/;

interface Side {
  show: Show;
  names: ReadonlyMap<string, string>;
}

function sideOf(show: Show): Side {
  const names = new Map<string, string>();
  for (const table of TABLE_NAMES) for (const row of show[table]) names.set(row.id, rowName(show, row));
  return { show, names };
}

/** Writes a value in the words of the state that it belongs to. */
function valueWords(value: unknown, member: string, { show, names }: Side): string {
  if (value === undefined || value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') {
    const text = ID.test(member) ? (names.get(value) ?? 'removed') : value === '' ? 'empty' : value;
    return cut(text);
  }
  if (isRecord(value) && typeof value['kind'] === 'string' && value['kind'] in SENDS)
    return cut(sendTitle(shiftChannels(value, -1) as Send, show.settings.middleC));
  if (Array.isArray(value)) {
    if (value.length === 0) return 'none';
    // A span, as of channels and values.
    if (value.length === 2 && value.every((one) => typeof one === 'number'))
      return value[0] === value[1] ? String(value[0]) : `${value[0]}–${value[1]}`;
    return cut(value.map((one) => valueWords(one, member, { show, names })).join(', '));
  }
  if (isRecord(value))
    return cut(
      Object.entries(value)
        .map(([key, one]) => `${plainName(key.replace(ID, ''))} ${valueWords(one, key, { show, names })}`)
        .join(', '),
    );
  return String(value as number);
}

const cut = (text: string): string => {
  const characters = [...text];
  return characters.length > LONGEST_VALUE ? `${characters.slice(0, LONGEST_VALUE).join('')}…` : text;
};

const isPlainList = (list: readonly unknown[]): boolean => list.every((one) => typeof one !== 'object');

interface Found {
  before: Side;
  after: Side;
  members: MemberDifference[];
}

/** Adds what differs between two values to a list. */
function differ(before: unknown, after: unknown, path: readonly string[], found: Found): void {
  if (found.members.length >= MOST_MEMBERS || isSame(before, after)) return;
  const bothRecords = isRecord(before) && isRecord(after);
  // Of another kind of thing, such as a send that became another, the whole is said.
  const sameKind =
    bothRecords && (['kind', 'message'] as const).every((name) => before[name] === after[name]);
  if (bothRecords && sameKind) {
    for (const key of new Set([...Object.keys(before), ...Object.keys(after)]))
      differ(before[key], after[key], [...path, key], found);
    return;
  }
  if (Array.isArray(before) && Array.isArray(after) && !isPlainList([...before, ...after])) {
    for (let at = 0; at < Math.max(before.length, after.length); at++)
      differ(before[at], after[at], [...path, String(at + 1)], found);
    return;
  }
  const member = path.findLast((step) => !/^\d+$/.test(step)) ?? '';
  found.members.push({
    member: path
      .map((step) => plainName(step.replace(ID, '')))
      .join(', ')
      .replace(/, (\d+)/g, ' $1'),
    before: valueWords(before, member, found.before),
    after: valueWords(after, member, found.after),
  });
}

function compareTable(table: TableName, before: Side, after: Side): RowDifference[] {
  const older: readonly { id: string }[] = before.show[table];
  const newer: readonly { id: string }[] = after.show[table];
  const placeBefore = new Map(older.map(({ id }, at) => [id, at]));
  const newIds = new Set(newer.map(({ id }) => id));
  const both = newer.filter(({ id }) => placeBefore.has(id));
  const kept = unmoved(both.map(({ id }) => placeBefore.get(id)!));
  const moved = new Set(both.filter((_, at) => !kept.has(at)).map(({ id }) => id));
  const of = (id: string, what: RowDifference['what'], side: Side): RowDifference => ({
    table,
    id,
    name: side.names.get(id) ?? '',
    what,
    members: [],
  });
  return [
    ...older.filter(({ id }) => !newIds.has(id)).map(({ id }) => of(id, 'removed', before)),
    ...newer.flatMap((row): RowDifference[] => {
      const at = placeBefore.get(row.id);
      if (at === undefined) return [of(row.id, 'added', after)];
      const members = membersOf(older[at], row, before, after);
      if (members.length > 0) return [{ ...of(row.id, 'changed', after), members }];
      return moved.has(row.id) ? [of(row.id, 'moved', after)] : [];
    }),
  ];
}

function membersOf(older: unknown, newer: unknown, before: Side, after: Side): MemberDifference[] {
  if (older === newer) return [];
  const found: Found = { before, after, members: [] };
  differ(shiftChannels(older, 1), shiftChannels(newer, 1), [], found);
  return found.members;
}

/** Returns what differs between two states of a show: its settings first, then its rows by table, in the order of the newer state. */
export function compareShows(before: Show, after: Show): RowDifference[] {
  const [older, newer] = [sideOf(before), sideOf(after)];
  const settings = membersOf(before.settings, after.settings, older, newer);
  const rows = TABLE_NAMES.flatMap((table) => compareTable(table, older, newer));
  if (settings.length === 0) return rows;
  return [
    { table: 'settings', id: 'settings', name: 'Settings', what: 'changed', members: settings },
    ...rows,
  ];
}
