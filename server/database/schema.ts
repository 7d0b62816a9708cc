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
import type { Settings } from '@tawny-signal/core/show';
import type { Bank } from '@tawny-signal/core/show/bank';
import type { Layout } from '@tawny-signal/core/show/layout';
import type { Line } from '@tawny-signal/core/show/line';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { Route } from '@tawny-signal/core/show/route';
import type { Mapping } from '@tawny-signal/core/show/mapping';

export const shows = pgTable('shows', {
  id: text('id').primaryKey(),
  settings: jsonb('settings').$type<Settings>().notNull(),
  /** Counts the edits; a browser that missed one sees it by this number. */
  rev: integer('rev').notNull().default(0),
  /** The state it had, to restart into. */
  armed: integer('armed').notNull().default(1),
  /** Where the running order stands (core/cues/runner); null where nothing is known of it yet. */
  standingBy: text('standing_by'),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

const ofShow = () =>
  text('show_id')
    .notNull()
    .references(() => shows.id, { onDelete: 'cascade' });

/** The rows of one kind, in their order. */
const rowsOf = <Body>(name: string) =>
  pgTable(
    name,
    {
      showId: ofShow(),
      id: text('id').notNull(),
      position: doublePrecision('position').notNull(),
      body: jsonb('body').$type<Body>().notNull(),
    },
    (table) => [primaryKey({ columns: [table.showId, table.id] })],
  );

export const lines = rowsOf<Line>('lines');
export const banks = rowsOf<Bank>('banks');
export const mappings = rowsOf<Mapping>('mappings');
export const routes = rowsOf<Route>('routes');
export const layouts = rowsOf<Layout>('layouts');
export const moments = rowsOf<Moment>('moments');

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
    ops: jsonb('ops').$type<Op[]>().notNull(),
    inverse: jsonb('inverse').$type<Op[]>().notNull(),
  },
  (table) => [index('edits_show').on(table.showId, table.id)],
);
