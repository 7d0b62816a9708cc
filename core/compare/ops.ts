/** The edit that leads from one state of a show to another. */
import { positionOf, type Op, type PlacedShow } from '../edits.js';
import type { Show } from '../show.js';
import { TABLE_NAMES, type TableName } from '../show/tables.js';

const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

function opsOfTable(placed: PlacedShow, next: Show, table: TableName): Op[] {
  const now: readonly { id: string }[] = placed.show[table];
  const rows: readonly { id: string }[] = next[table];
  const known = new Map(now.map((row) => [row.id, row]));
  const wanted = new Set(rows.map(({ id }) => id));
  const removed = now.filter(({ id }) => !wanted.has(id)).map(({ id }): Op => ({ op: 'remove', table, id }));
  // While the order stays, rows keep their positions. Otherwise all are numbered anew.
  const keepsOrder = rows.length === now.length && rows.every(({ id }, at) => now[at]!.id === id);
  const put = rows.flatMap((row, at): Op[] => {
    const before = positionOf(placed, table, row.id);
    const position = keepsOrder ? before : at + 1;
    if (isSame(known.get(row.id), row) && position === before) return [];
    return [{ op: 'put', table, row, position } as Op];
  });
  return [...removed, ...put];
}

/** Returns the ops that make `next` of a show: rows that are the same in both are left alone. */
export function opsTo(placed: PlacedShow, next: Show): Op[] {
  const rows = TABLE_NAMES.flatMap((table) => opsOfTable(placed, next, table));
  if (isSame(placed.show.settings, next.settings)) return rows;
  return [...rows, { op: 'settings', settings: next.settings }];
}
