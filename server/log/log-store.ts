/** Performances and their log entries in PostgreSQL. */
import { asc, desc, eq, sql } from 'drizzle-orm';
import type { LogEntry, Performance } from '@tawny-signal/core/cues/log';
import { inTransaction, type Database } from '../database/database.js';
import { logEntries, performances } from '../database/schema.js';

/** The most entries that are written with one statement. */
const MOST_AT_ONCE = 500;

const performanceOf = (row: typeof performances.$inferSelect): Performance => ({
  id: row.id,
  name: row.name,
  begunAt: row.begunAt.getTime(),
  endedAt: row.endedAt?.getTime() ?? null,
});

/** The newest first. */
export async function loadPerformances(db: Database, showId: string): Promise<Performance[]> {
  const rows = await db
    .select()
    .from(performances)
    .where(eq(performances.showId, showId))
    .orderBy(desc(performances.begunAt));
  return rows.map(performanceOf);
}

/** Ordered by time. */
export async function loadEntries(db: Database, performanceId: string): Promise<LogEntry[]> {
  const rows = await db
    .select()
    .from(logEntries)
    .where(eq(logEntries.performanceId, performanceId))
    .orderBy(asc(logEntries.at), asc(logEntries.id));
  return rows.map(({ id, at, what, momentId, cue, name, askedBy, lines }) => ({
    id,
    at: at.getTime(),
    what,
    momentId,
    cue,
    name,
    askedBy,
    lines,
  }));
}

/** Writes the current state of a performance, and its new and changed entries. */
export async function saveLog(
  db: Database,
  showId: string,
  { id, name, begunAt, endedAt }: Performance,
  entries: readonly LogEntry[],
): Promise<void> {
  await inTransaction(db, async (tx) => {
    const ended = endedAt === null ? null : new Date(endedAt);
    await tx
      .insert(performances)
      .values({ id, showId, name, begunAt: new Date(begunAt), endedAt: ended })
      .onConflictDoUpdate({ target: performances.id, set: { name, endedAt: ended } });
    for (let from = 0; from < entries.length; from += MOST_AT_ONCE) {
      const rows = entries
        .slice(from, from + MOST_AT_ONCE)
        .map((entry) => ({ ...entry, performanceId: id, at: new Date(entry.at) }));
      await tx
        .insert(logEntries)
        .values(rows)
        .onConflictDoUpdate({ target: logEntries.id, set: { lines: sql`excluded.lines` } });
    }
  });
}

export async function removePerformance(db: Database, id: string): Promise<void> {
  await db.delete(performances).where(eq(performances.id, id));
}
