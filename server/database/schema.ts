/** The tables of a show. A row's body is checked by core's schema of that table before it is written. */
import {
  bigserial,
  bigint,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { Op } from '@tawny-signal/core/edits';
import type { Settings, Show } from '@tawny-signal/core/show';
import { forTables, TABLES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import type { LineTally, LogWhat } from '@tawny-signal/core/cues/log';

/** What a restart goes on from, beside the rows: what ran, and the levels of each line in base64. */
export interface KeptState {
  running: string[];
  levels: Record<string, string>;
}

export const shows = pgTable('shows', {
  id: text('id').primaryKey(),
  settings: jsonb('settings').$type<Settings>().notNull(),
  /** Counts the edits; a browser that missed one sees it by this number. */
  rev: integer('rev').notNull().default(0),
  /** The state it had, to restart into. */
  armed: integer('armed').notNull().default(1),
  /** Where the running order stands (core/cues/runner); null where nothing is known of it yet. */
  standingBy: text('standing_by'),
  /** Nothing can be edited. */
  locked: integer('locked').notNull().default(0),
  kept: jsonb('kept').$type<KeptState>(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  /** When it was opened last. The one that was opened last of all is the open show. */
  openedAt: timestamp('opened_at', { withTimezone: true }),
  /** When it was archived; null if it is in the list. */
  archivedAt: timestamp('archived_at', { withTimezone: true }),
});

const ofShow = () =>
  text('show_id')
    .notNull()
    .references(() => shows.id, { onDelete: 'cascade' });

/** The rows of one kind, in their order. */
const rowsOf = (name: string) =>
  pgTable(
    name,
    {
      showId: ofShow(),
      id: text('id').notNull(),
      position: doublePrecision('position').notNull(),
      body: jsonb('body').$type<RowOf[TableName]>().notNull(),
    },
    (table) => [primaryKey({ columns: [table.showId, table.id] })],
  );

/** The tables of rows. */
export const ROW_TABLES = forTables<Record<TableName, ReturnType<typeof rowsOf>>>((table) =>
  rowsOf(TABLES[table].sql),
);
/** Each by its name too: `drizzle-kit generate` reads what this file exports. A new kind of row needs its name here, and a migration. */
export const {
  lines,
  banks,
  mappings,
  routes,
  layouts,
  moments,
  groups,
  looks,
  midiFiles,
  timeSources,
  timeOutputs,
  tempoMarks,
  motions,
} = ROW_TABLES;

/** Named states of a show, to look at, compare with and go back to. */
export const showVersions = pgTable(
  'show_versions',
  {
    id: text('id').primaryKey(),
    showId: ofShow(),
    name: text('name').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    body: jsonb('body').$type<Show>().notNull(),
  },
  (table) => [index('versions_of_show').on(table.showId, table.at)],
);

/** A run of the show, from its beginning to its end; the log is kept for each. */
export const performances = pgTable('performances', {
  id: text('id').primaryKey(),
  showId: ofShow(),
  name: text('name').notNull(),
  begunAt: timestamp('begun_at', { withTimezone: true }).notNull(),
  endedAt: timestamp('ended_at', { withTimezone: true }),
});

/** What happened in a performance. Cues and names are kept as they were. */
export const logEntries = pgTable(
  'log_entries',
  {
    id: text('id').primaryKey(),
    performanceId: text('performance_id')
      .notNull()
      .references(() => performances.id, { onDelete: 'cascade' }),
    at: timestamp('at', { withTimezone: true }).notNull(),
    what: text('what').$type<LogWhat>().notNull(),
    momentId: text('moment_id'),
    cue: text('cue').notNull(),
    name: text('name').notNull(),
    askedBy: text('asked_by').notNull(),
    lines: jsonb('lines').$type<LineTally[]>().notNull(),
  },
  (table) => [index('log_of_performance').on(table.performanceId, table.at)],
);

/** Append-only: every edit with its inverse. Undo appends too, naming the edit that it takes back. */
export const edits = pgTable(
  'edits',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    showId: ofShow(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    kind: text('kind', { enum: ['do', 'undo', 'redo'] }).notNull(),
    of: bigint('of', { mode: 'number' }),
    label: text('label').notNull(),
    /** The name of who made it; empty where nobody had to sign in. */
    by: text('by').notNull().default(''),
    ops: jsonb('ops').$type<Op[]>().notNull(),
    inverse: jsonb('inverse').$type<Op[]>().notNull(),
  },
  (table) => [index('edits_show').on(table.showId, table.id)],
);

/** One row that is written now and then, to see whether anything can be. */
export const health = pgTable('health', {
  id: integer('id').primaryKey(),
  at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  pad: text('pad').notNull().default(''),
});
