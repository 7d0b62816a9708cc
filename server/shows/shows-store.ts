/** The list of shows, and the versions of each, in PostgreSQL. */
import { and, asc, desc, eq, max, sql } from 'drizzle-orm';
import type { Show } from '@tawny-signal/core/show';
import { TABLE_NAMES, type TableName } from '@tawny-signal/core/show/tables';
import type { Database } from '../database/database.js';
import { edits, performances, ROW_TABLES, shows, showVersions } from '../database/schema.js';

/** How many rows of each kind a show has. */
export type RowCounts = Record<TableName, number>;

export interface ListedShow {
  id: string;
  name: string;
  rows: RowCounts;
  createdAt: Date;
  /** When it was edited last; null if it never was. */
  changedAt: Date | null;
  /** When its last performance began; null if there was none. */
  playedAt: Date | null;
  archivedAt: Date | null;
}

/** Returns all shows, the one that was opened last first. */
export async function listShows(db: Database): Promise<ListedShow[]> {
  const all = await db
    .select()
    .from(shows)
    .orderBy(sql`${shows.openedAt} desc nulls last`, asc(shows.createdAt));
  const changed = await db
    .select({ id: edits.showId, at: max(edits.at) })
    .from(edits)
    .groupBy(edits.showId);
  const played = await db
    .select({ id: performances.showId, at: max(performances.begunAt) })
    .from(performances)
    .groupBy(performances.showId);
  const counts = new Map<string, RowCounts>();
  for (const table of TABLE_NAMES) {
    const { showId } = ROW_TABLES[table];
    const rows = await db
      .select({ id: showId, count: sql<number>`count(*)::int` })
      .from(ROW_TABLES[table])
      .groupBy(showId);
    for (const { id, count } of rows) counts.set(id, { ...(counts.get(id) ?? noRows()), [table]: count });
  }
  const latest = (list: { id: string; at: Date | null }[], id: string): Date | null =>
    list.find((one) => one.id === id)?.at ?? null;
  return all.map(({ id, settings, createdAt, archivedAt }) => ({
    id,
    name: settings.name,
    rows: counts.get(id) ?? noRows(),
    createdAt,
    changedAt: latest(changed, id),
    playedAt: latest(played, id),
    archivedAt,
  }));
}

const noRows = (): RowCounts => Object.fromEntries(TABLE_NAMES.map((table) => [table, 0])) as RowCounts;

export async function setArchived(db: Database, id: string, archived: boolean): Promise<void> {
  await db
    .update(shows)
    .set({ archivedAt: archived ? sql`now()` : null })
    .where(eq(shows.id, id));
}

export interface ListedVersion {
  id: string;
  name: string;
  at: Date;
}

/** Returns the versions of a show, the newest first. */
export async function listVersions(db: Database, showId: string): Promise<ListedVersion[]> {
  const { id, name, at } = showVersions;
  return db
    .select({ id, name, at })
    .from(showVersions)
    .where(eq(showVersions.showId, showId))
    .orderBy(desc(at));
}

export async function insertVersion(
  db: Database,
  showId: string,
  version: { id: string; name: string; body: Show },
): Promise<ListedVersion> {
  const { id, name, at } = showVersions;
  const [row] = await db
    .insert(showVersions)
    .values({ showId, ...version })
    .returning({ id, name, at });
  return row!;
}

const ofVersion = (showId: string, id: string) =>
  and(eq(showVersions.showId, showId), eq(showVersions.id, id));

/** Returns a version with the show as it was saved; null if it is not there. */
export async function findVersion(
  db: Database,
  showId: string,
  id: string,
): Promise<(ListedVersion & { body: Show }) | null> {
  const [row] = await db.select().from(showVersions).where(ofVersion(showId, id));
  return row ?? null;
}

/** @returns whether it was there */
export async function renameVersion(
  db: Database,
  showId: string,
  id: string,
  name: string,
): Promise<boolean> {
  const done = await db
    .update(showVersions)
    .set({ name })
    .where(ofVersion(showId, id))
    .returning({ id: showVersions.id });
  return done.length > 0;
}

/** @returns whether it was there */
export async function removeVersion(db: Database, showId: string, id: string): Promise<boolean> {
  const done = await db.delete(showVersions).where(ofVersion(showId, id)).returning({ id: showVersions.id });
  return done.length > 0;
}
