/**
 * Which rows of a show name a row: the mappings, routes and moments that use a line, the moments that send a look. Rows name each other by ids in
 * members that are called the same everywhere, so new kinds of rows and sends are found without a change here.
 */
import { count } from '../plural.js';
import type { Show } from '../show.js';
import { forTables, TABLE_NAMES, TABLES, type RowOf, type TableName } from '../show/tables.js';

/** The members that hold the id of a row of a table. */
const MEMBERS: Readonly<Partial<Record<TableName, readonly string[]>>> = {
  lines: ['lineId', 'fromId', 'toId'],
  banks: ['bankId'],
  looks: ['lookId'],
  groups: ['groupId'],
  midiFiles: ['fileId'],
  moments: ['momentId'],
  motions: ['motionId'],
};

/** The rows that use a row, by their table. */
export type Uses = { [T in TableName]: RowOf[T][] };

function names(value: unknown, members: readonly string[], id: string): boolean {
  if (Array.isArray(value)) return value.some((one) => names(one, members, id));
  if (typeof value !== 'object' || value === null) return false;
  return Object.entries(value).some(
    ([key, one]) => (one === id && members.includes(key)) || names(one, members, id),
  );
}

/** Returns the rows that name a row, without the row itself. The cost grows with the show: ask once for a question, not while drawing. */
export function usesOf(show: Show, table: TableName, id: string): Uses {
  const members = MEMBERS[table] ?? [];
  return forTables<Uses>((other) => {
    const rows: { id: string }[] = members.length === 0 ? [] : show[other];
    return rows.filter((row) => !(other === table && row.id === id) && names(row, members, id)) as never;
  });
}

/** `9 mappings, 1 route and 10 moments`; empty if nothing uses it. */
export function usesWords(uses: Uses): string {
  const parts = TABLE_NAMES.filter((table) => uses[table].length > 0).map((table) =>
    count(uses[table].length, TABLES[table].called),
  );
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)!}`;
}

/** The tables by the names of the members that hold ids of their rows. */
const TABLE_OF: ReadonlyMap<string, TableName> = new Map(
  TABLE_NAMES.flatMap((table) => (MEMBERS[table] ?? []).map((member) => [member, table] as const)),
);

/** Copies a row with other ids in the place of those that it names. @param idOf returns the id in the place of one; null for none */
export function relinked<Row>(row: Row, idOf: (table: TableName, id: string) => string | null): Row {
  const copy = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(copy);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, one]) => {
        const table = typeof one === 'string' ? TABLE_OF.get(key) : undefined;
        return [key, table ? idOf(table, one as string) : copy(one)];
      }),
    );
  };
  return copy(row) as Row;
}

/** Copies a row, and lets it name another row instead. @param table the table of the row that is named */
export const renamed = <Row>(row: Row, table: TableName, id: string, by: string): Row =>
  relinked(row, (other, one) => (other === table && one === id ? by : one));
