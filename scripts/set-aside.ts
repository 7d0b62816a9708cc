/**
 * Sets our tables aside while a backup is restored into the same database, so that they can be put back. It needs no other right than that of the
 * program: a user that owns a database may not make a second one.
 */
import { getTableName, is } from 'drizzle-orm';
import { PgTable } from 'drizzle-orm/pg-core';
import pg from 'pg';
import * as schema from '../server/database/schema.js';

/** The schema in which Drizzle keeps which migrations were done. */
export const MIGRATIONS_SCHEMA = 'drizzle';
const MIGRATIONS = '__drizzle_migrations';
/** The schema that holds the tables that were set aside. It exists only during a restore, and after one that was killed. */
const ASIDE = 'tawny_before_restore';
/** The number of our advisory lock: a restore holds it from its beginning to its end. */
const LOCK = 4_630_016;

/** The names of our tables. */
export const OUR_TABLES: readonly string[] = Object.values(schema)
  .filter((one) => is(one, PgTable))
  .map((table) => getTableName(table));

async function exists(client: pg.Client, table: string): Promise<boolean> {
  const { rows } = await client.query<{ is: boolean }>('select to_regclass($1) is not null as is', [table]);
  return rows[0]!.is;
}

/** Whether the database has ever kept a show. */
export const hasShows = (client: pg.Client): Promise<boolean> => exists(client, 'public.shows');

/** Does all of it or nothing, and gives up when a table is in use by somebody else. */
async function together(client: pg.Client, act: () => Promise<void>): Promise<void> {
  await client.query('begin');
  try {
    await client.query(`set local lock_timeout = '5s'`);
    await act();
    await client.query('commit');
  } catch (error) {
    await client.query('rollback').catch(() => undefined);
    throw error;
  }
}

/** Moves our tables, with their indexes and sequences, from their places to others. */
async function move(client: pg.Client, from: (table: string) => string, to: string | null): Promise<void> {
  for (const table of [...OUR_TABLES, MIGRATIONS]) {
    const at = `${from(table)}.${pg.escapeIdentifier(table)}`;
    if (await exists(client, at)) await client.query(`alter table ${at} set schema ${to ?? homeOf(table)}`);
  }
}

const homeOf = (table: string): string => (table === MIGRATIONS ? MIGRATIONS_SCHEMA : 'public');

/** Empties the places of our tables. What was there can be put back with `putBack`, until `forget`. */
export const setAside = (client: pg.Client): Promise<void> =>
  together(client, async () => {
    await client.query(`create schema ${ASIDE}`);
    await client.query(`create schema if not exists ${MIGRATIONS_SCHEMA}`);
    await move(client, homeOf, ASIDE);
  });

/** Puts the tables back that were set aside, in place of those that were restored. Does nothing where none were. @returns whether there were any */
export async function putBack(client: pg.Client): Promise<boolean> {
  const { rowCount } = await client.query('select from pg_namespace where nspname = $1', [ASIDE]);
  if (rowCount === 0) return false;
  // The program of a restore that was killed may be at work still.
  await client.query(
    `select pg_terminate_backend(pid) from pg_stat_activity
     where datname = current_database() and usename = current_user and application_name = 'pg_restore'`,
  );
  await together(client, async () => {
    for (const table of [...OUR_TABLES, MIGRATIONS])
      await client.query(`drop table if exists ${homeOf(table)}.${pg.escapeIdentifier(table)} cascade`);
    await move(client, () => ASIDE, null);
    await client.query(`drop schema ${ASIDE}`);
  });
  return true;
}

/** Throws away what was set aside. */
export const forget = async (client: pg.Client): Promise<void> => {
  await client.query(`drop schema ${ASIDE} cascade`);
};

/** Takes the lock of restores, until the connection ends. @returns false if another restore has it */
export async function lockRestores(client: pg.Client): Promise<boolean> {
  const { rows } = await client.query<{ ours: boolean }>('select pg_try_advisory_lock($1) as ours', [LOCK]);
  return rows[0]!.ours;
}

/**
 * Undoes a restore that was killed, so that the program never starts with half of one.
 * @returns whether there was one. @throws if a restore is at work now
 */
export async function undoKilledRestore(client: pg.Client): Promise<boolean> {
  if (!(await lockRestores(client)))
    throw new Error('A backup is being restored into this database. Try again when that is done.');
  return putBack(client);
}
