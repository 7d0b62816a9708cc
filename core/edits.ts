/**
 * Edits of a show: what one change puts and takes away, and how that is undone.
 * The same code applies them in the server, the engine and the browser.
 */
import type { Settings, Show } from './show.js';
import type { RowOf, TableName } from './show/tables.js';

/** Rows are kept in the order of `position`, ascending; a row put between two others gets a number between theirs. */
export type Op =
  | { [T in TableName]: { op: 'put'; table: T; row: RowOf[T]; position: number } }[TableName]
  | { op: 'remove'; table: TableName; id: string }
  | { op: 'settings'; settings: Settings };

/** A show with the positions of its rows: a bank and a moment may have the same id, so each is known by its table too. */
export interface PlacedShow {
  show: Show;
  /** By `placeKey`. */
  position: Record<string, number>;
}

export const placeKey = (table: TableName, id: string): string => `${table} ${id}`;

/** Where a row stands among those of its table. */
export const positionOf = (
  { position }: Pick<PlacedShow, 'position'>,
  table: TableName,
  id: string,
): number => position[placeKey(table, id)] ?? 0;

/** The positions of rows that stand one after another. */
export const positionsOf = (show: Show, tables: readonly TableName[]): Record<string, number> =>
  Object.fromEntries(
    tables.flatMap((table) => show[table].map(({ id }, at) => [placeKey(table, id), at + 1] as const)),
  );

/** Rows of a table by their id. */
type ById = Map<string, { id: string }>;

/** The ops that take back `ops`: every row they touch as it was before. */
export function inverseOf({ show, position }: PlacedShow, ops: Op[]): Op[] {
  const tables = new Map<TableName, ById>();
  const touched = new Set<string>();
  const inverse: Op[] = [];
  for (const op of ops) {
    if (op.op === 'settings') {
      if (!touched.has('settings')) inverse.unshift({ op: 'settings', settings: show.settings });
      touched.add('settings');
      continue;
    }
    const { table } = op;
    const id = op.op === 'put' ? op.row.id : op.id;
    if (touched.has(`${table} ${id}`)) continue;
    touched.add(`${table} ${id}`);
    const rows = tables.get(table) ?? byId(show[table]);
    tables.set(table, rows);
    const row = rows.get(id);
    const put = { op: 'put', table, row, position: positionOf({ position }, table, id) } as Op;
    inverse.unshift(row ? put : { op: 'remove', table, id });
  }
  return inverse;
}

const byId = (rows: readonly { id: string }[]): ById => new Map(rows.map((row) => [row.id, row]));

/** More ops than this are done table by table, in time in proportion to the rows and not to rows times ops. */
const FEW = 8;

/** The show after the ops; the one given is left as it is. */
export function applyOps(placed: PlacedShow, ops: Op[]): PlacedShow {
  return ops.length > FEW ? applyMany(placed, ops) : applyFew(placed, ops);
}

function applyFew(placed: PlacedShow, ops: Op[]): PlacedShow {
  const show = { ...placed.show };
  const position = { ...placed.position };
  for (const op of ops) {
    if (op.op === 'settings') show.settings = op.settings;
    else if (op.op === 'remove') {
      Object.assign(show, { [op.table]: show[op.table].filter((row) => row.id !== op.id) });
      Reflect.deleteProperty(position, placeKey(op.table, op.id));
    } else {
      const rows: { id: string }[] = show[op.table].filter((row) => row.id !== op.row.id);
      position[placeKey(op.table, op.row.id)] = op.position;
      // Most rows are added at the end, so it is looked for from there.
      const last = rows.findLastIndex((row) => positionOf({ position }, op.table, row.id) <= op.position);
      rows.splice(last + 1, 0, op.row);
      Object.assign(show, { [op.table]: rows });
    }
  }
  return { show, position };
}

function applyMany(placed: PlacedShow, ops: Op[]): PlacedShow {
  const show = { ...placed.show };
  const position = { ...placed.position };
  const tables = new Map<TableName, ById>();
  for (const op of ops) {
    if (op.op === 'settings') {
      show.settings = op.settings;
      continue;
    }
    const rows = tables.get(op.table) ?? byId(show[op.table]);
    tables.set(op.table, rows);
    if (op.op === 'remove') {
      rows.delete(op.id);
      Reflect.deleteProperty(position, placeKey(op.table, op.id));
    } else {
      rows.delete(op.row.id); // of equal positions, the row that was put last stands last
      rows.set(op.row.id, op.row);
      position[placeKey(op.table, op.row.id)] = op.position;
    }
  }
  for (const [table, rows] of tables) {
    const sorted = [...rows.values()]
      .map((row) => ({ row, at: positionOf({ position }, table, row.id) }))
      .sort((a, b) => a.at - b.at);
    Object.assign(show, { [table]: sorted.map(({ row }) => row) });
  }
  return { show, position };
}

/** What the undo list knows of an edit. `of` is the edit that an undo or redo acts on. */
export interface EditMark {
  id: number;
  kind: 'do' | 'undo' | 'redo';
  of: number | null;
}

/** From the append-only list: what Undo would take back next, and what Redo would bring back. */
export function undoState(marks: EditMark[]): { undo: number | null; redo: number | null } {
  const done: number[] = [];
  const undone: number[] = [];
  for (const mark of marks) {
    if (mark.kind === 'do') {
      done.push(mark.id);
      undone.length = 0;
    } else if (mark.kind === 'undo') {
      done.splice(done.lastIndexOf(mark.of ?? -1), 1);
      undone.push(mark.of!);
    } else {
      undone.splice(undone.lastIndexOf(mark.of ?? -1), 1);
      done.push(mark.of!);
    }
  }
  return { undo: done.at(-1) ?? null, redo: undone.at(-1) ?? null };
}
