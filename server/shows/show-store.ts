/** Reading and writing the show's rows. One edit is one transaction. */
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import { emptyShow, settingsSchema, type Show } from '@tawny-signal/core/show';
import { ROW_SCHEMAS } from '@tawny-signal/core/show/row-schemas';
import type { Bank } from '@tawny-signal/core/show/bank';
import { migrateRow } from '@tawny-signal/core/show/migrate';
import { placeKey, positionOf, type EditMark, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import { TABLE_NAMES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import { inTransaction, type Database, type Transaction } from '../database/database.js';
import { edits, ROW_TABLES, shows, type KeptState } from '../database/schema.js';
import { nameOfAsker } from '../people/asking.js';

export interface LoadedShow {
  id: string;
  rev: number;
  armed: boolean;
  /** The moment that stood by. */
  standingBy: string | null;
  locked: boolean;
  kept: KeptState | null;
  placed: PlacedShow;
  marks: EditMark[];
}

/** Loads the open show, which is the one that was opened last; null if there is none. @param id of another one */
export async function loadShow(db: Database, id?: string): Promise<LoadedShow | null> {
  const [row] = await db
    .select()
    .from(shows)
    .where(id === undefined ? undefined : eq(shows.id, id))
    .orderBy(sql`${shows.openedAt} desc nulls last`, asc(shows.createdAt))
    .limit(1);
  if (!row) return null;
  const show = emptyShow(row.settings.name);
  show.settings = settingsSchema.parse(row.settings);
  const position: Record<string, number> = {};
  for (const table of TABLE_NAMES) {
    const rows = await db
      .select()
      .from(ROW_TABLES[table])
      .where(eq(ROW_TABLES[table].showId, row.id))
      .orderBy(asc(ROW_TABLES[table].position), asc(ROW_TABLES[table].id));
    for (const { id, position: at } of rows) position[placeKey(table, id)] = at;
    Object.assign(show, { [table]: rows.map((one) => asNow(table, one.body)) });
  }
  const marks = await db
    .select({ id: edits.id, kind: edits.kind, of: edits.of })
    .from(edits)
    .where(eq(edits.showId, row.id))
    .orderBy(asc(edits.id));
  return {
    id: row.id,
    rev: row.rev,
    armed: row.armed === 1,
    standingBy: row.standingBy,
    locked: row.locked === 1,
    kept: row.kept,
    placed: { show, position },
    marks,
  };
}

/** Converts the rows of a show that was saved whole to today's schemas. */
export function showAsNow(body: Show): Show {
  const show = emptyShow(body.settings.name);
  show.settings = settingsSchema.parse(body.settings);
  for (const table of TABLE_NAMES)
    // A version may be older than a table.
    Object.assign(show, {
      [table]: ((body[table] as RowOf[TableName][] | undefined) ?? []).map((row) => asNow(table, row)),
    });
  return show;
}

/** Converts a row to today's schema. Fields that were added since it was saved get their defaults. */
function asNow<T extends TableName>(table: T, body: RowOf[T]): RowOf[T] {
  return ROW_SCHEMAS[table].parse(migrateRow(table, body)) as RowOf[T];
}

const opAsNow = (op: Op): Op => (op.op === 'put' ? ({ ...op, row: asNow(op.table, op.row) } as Op) : op);

/** Writes a whole new show. It is not opened, unless there is no other. */
export async function insertShow(db: Database, id: string, show: Show): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx.insert(shows).values({ id, settings: show.settings });
    for (const table of TABLE_NAMES) {
      const rows = show[table].map((body, at) => ({ showId: id, id: body.id, position: at + 1, body }));
      for (let from = 0; from < rows.length; from += MOST_AT_ONCE)
        await tx.insert(ROW_TABLES[table]).values(rows.slice(from, from + MOST_AT_ONCE) as never);
    }
  });
}

/** Makes a show the open one. */
export async function markOpened(db: Database, id: string, armed: boolean): Promise<void> {
  const values = { openedAt: sql`now()`, archivedAt: null, armed: armed ? 1 : 0, locked: 0, kept: null };
  await db.update(shows).set(values).where(eq(shows.id, id));
}

export interface NewEdit {
  kind: EditMark['kind'];
  of: number | null;
  label: string;
  ops: Op[];
  inverse: Op[];
}

async function applyOp(tx: Transaction, showId: string, op: Op): Promise<void> {
  if (op.op === 'settings') {
    await tx.update(shows).set({ settings: op.settings }).where(eq(shows.id, showId));
    return;
  }
  const table = ROW_TABLES[op.table];
  if (op.op === 'remove') {
    await tx.delete(table).where(and(eq(table.showId, showId), eq(table.id, op.id)));
    return;
  }
  const { row: body, position } = op;
  await tx
    .insert(table)
    .values({ showId, id: body.id, position, body } as never)
    .onConflictDoUpdate({ target: [table.showId, table.id], set: { position, body } as never });
}

type Put = Extract<Op, { op: 'put' }>;

/** The most rows that are written with one statement. */
const MOST_AT_ONCE = 500;

/** Groups consecutive ops that put different rows of the same table. */
function batches(ops: readonly Op[]): Op[][] {
  const made: Op[][] = [];
  const ids = new Set<string>();
  for (const op of ops) {
    const batch = made.at(-1);
    const before = batch?.at(-1);
    const joins = op.op === 'put' && before?.op === 'put' && before.table === op.table && !ids.has(op.row.id);
    if (joins && batch!.length < MOST_AT_ONCE) batch!.push(op);
    else {
      made.push([op]);
      ids.clear();
    }
    if (op.op === 'put') ids.add(op.row.id);
  }
  return made;
}

async function applyPuts(tx: Transaction, showId: string, puts: readonly Put[]): Promise<void> {
  const table = ROW_TABLES[puts[0]!.table];
  await tx
    .insert(table)
    .values(puts.map(({ row: body, position }) => ({ showId, id: body.id, position, body })) as never)
    .onConflictDoUpdate({
      target: [table.showId, table.id],
      set: { position: sql`excluded.position`, body: sql`excluded.body` } as never,
    });
}

/** The error if the database has a different version of the show than the one that was changed. */
export class NotTheShow extends Error {}

/** @throws NotTheShow if the show does not have the revision `from` */
async function stepRev(tx: Transaction, showId: string, from: number, to: number): Promise<void> {
  const stepped = await tx
    .update(shows)
    .set({ rev: to })
    .where(and(eq(shows.id, showId), eq(shows.rev, from)))
    .returning({ rev: shows.rev });
  if (stepped.length !== 1) throw new NotTheShow(`the show has not the revision ${from}`);
}

/** Removes the last edit, which was saved although its answer was lost and it was refused. @param rev the revision that it made */
export async function dropEdit(db: Database, showId: string, rev: number): Promise<void> {
  await inTransaction(db, async (tx) => {
    await stepRev(tx, showId, rev, rev - 1);
    const [last] = await tx
      .select()
      .from(edits)
      .where(eq(edits.showId, showId))
      .orderBy(desc(edits.id))
      .limit(1);
    if (!last) return;
    for (const op of last.inverse.map(opAsNow)) await applyOp(tx, showId, op);
    await tx.delete(edits).where(eq(edits.id, last.id));
  });
}

/** Saves an edit, all of it or nothing. @returns the edit's number. */
export async function saveEdit(db: Database, showId: string, rev: number, edit: NewEdit): Promise<number> {
  return inTransaction(db, async (tx) => {
    await stepRev(tx, showId, rev - 1, rev);
    for (const batch of batches(edit.ops)) {
      if (batch.length === 1) await applyOp(tx, showId, batch[0]!);
      else await applyPuts(tx, showId, batch as Put[]);
    }
    const [row] = await tx
      .insert(edits)
      .values({ showId, by: nameOfAsker(), ...edit })
      .returning({ id: edits.id });
    return row!.id;
  });
}

/** What signals change, to restart from. What is left out has not changed. */
export interface LiveRows {
  banks: Bank[];
  standingBy?: string | null;
  kept?: KeptState | null;
}

export async function saveLiveRows(
  db: Database,
  showId: string,
  placed: PlacedShow,
  { banks: rows, ...state }: LiveRows,
): Promise<void> {
  await inTransaction(db, async (tx) => {
    for (const row of rows)
      await applyOp(tx, showId, {
        op: 'put',
        table: 'banks',
        row,
        position: positionOf(placed, 'banks', row.id),
      });
    if (Object.keys(state).length > 0) await tx.update(shows).set(state).where(eq(shows.id, showId));
  });
}

export async function findEdit(db: Database, id: number): Promise<typeof edits.$inferSelect | null> {
  const [row] = await db.select().from(edits).where(eq(edits.id, id));
  return row ? { ...row, ops: row.ops.map(opAsNow), inverse: row.inverse.map(opAsNow) } : null;
}
