/**
 * Edits of a show: what one change puts and takes away, and how that is undone.
 * The same code applies them in the server, the engine thread and the browser.
 */
import type { Bank, Settings, Show } from './show.js';
import type { Route } from './show/route.js';
import type { Line } from './show/line.js';
import type { Mapping } from './show/mapping.js';

/** Rows are kept in the order of `position`, ascending; a row put between two others gets a number between theirs. */
export type RowOf = { lines: Line; banks: Bank; mappings: Mapping; routes: Route };
export type TableName = keyof RowOf;

export type Op =
  | { [T in TableName]: { op: 'put'; table: T; row: RowOf[T]; position: number } }[TableName]
  | { op: 'remove'; table: TableName; id: string }
  | { op: 'settings'; settings: Settings };

/** A show with the positions of its rows. */
export interface PlacedShow {
  show: Show;
  position: Record<string, number>;
}

/** The ops that take back `ops`, in the order in which they must be done. */
export function inverseOf(placed: PlacedShow, ops: Op[]): Op[] {
  const inverse: Op[] = [];
  let before = placed;
  for (const op of ops) {
    inverse.unshift(inverseOfOne(before, op));
    before = applyOps(before, [op]);
  }
  return inverse;
}

function inverseOfOne({ show, position }: PlacedShow, op: Op): Op {
  if (op.op === 'settings') return { op: 'settings', settings: show.settings };
  const id = op.op === 'put' ? op.row.id : op.id;
  const row = show[op.table].find((candidate) => candidate.id === id);
  if (!row) return { op: 'remove', table: op.table, id };
  return { op: 'put', table: op.table, row, position: position[id] ?? 0 } as Op;
}

/** The show after the ops; the one given is left as it is. */
export function applyOps(placed: PlacedShow, ops: Op[]): PlacedShow {
  const show = { ...placed.show };
  const position = { ...placed.position };
  for (const op of ops) {
    if (op.op === 'settings') show.settings = op.settings;
    else if (op.op === 'remove') {
      Object.assign(show, { [op.table]: show[op.table].filter((row) => row.id !== op.id) });
      Reflect.deleteProperty(position, op.id);
    } else {
      const others: { id: string }[] = show[op.table].filter((row) => row.id !== op.row.id);
      position[op.row.id] = op.position;
      let at = others.findIndex((row) => position[row.id]! > op.position);
      if (at < 0) at = others.length;
      Object.assign(show, { [op.table]: [...others.slice(0, at), op.row, ...others.slice(at)] });
    }
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
