/** The connection to PostgreSQL. It may break and come back while the show goes on. */
import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.js';

export type Database = NodePgDatabase<typeof schema> & { $client: pg.Pool };
/** The same, within a transaction. */
export type Transaction = NodePgDatabase<typeof schema>;

/** Nest's name for the connection. */
export const DATABASE = Symbol('database');
export const POOL = Symbol('pool');

/** What PostgreSQL is told of who is connected: a restore looks for it, so as not to change what a running program uses. */
export const PROGRAM_NAME = 'tawny-signal';

const MIGRATIONS = fileURLToPath(new URL('../../drizzle', import.meta.url));

/** @param url postgres://… A query without an answer fails after 3 s */
export function openPool(url: string): pg.Pool {
  const pool = new pg.Pool({
    connectionString: url,
    application_name: PROGRAM_NAME,
    max: 4,
    connectionTimeoutMillis: 3000,
    query_timeout: 3000,
  });
  return unbroken(pool);
}

/**
 * A connection that breaks ends nothing: whoever asks by it is told, and it is replaced at the next query. The pool hears its idle connections; one
 * that is in a transaction has nobody else.
 */
function unbroken(pool: pg.Pool): pg.Pool {
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return pool;
}

export const openDatabase = (pool: pg.Pool): Database => drizzle(pool, { schema });

/**
 * Does all of it or nothing. Drizzle's own `transaction` keeps the connection for ever where `begin` fails, as it does when the database dies, until there
 * is none left.
 */
export async function inTransaction<T>(db: Database, act: (tx: Transaction) => Promise<T>): Promise<T> {
  const client = await db.$client.connect();
  let worked = false;
  try {
    await client.query('begin');
    const result = await act(drizzle(client, { schema }));
    await client.query('commit');
    worked = true;
    return result;
  } finally {
    // A connection that is closed takes back what was not committed.
    client.release(!worked);
  }
}

/** Brings the tables up to what this version wants. */
export async function migrateDatabase(url: string): Promise<void> {
  const pool = unbroken(
    new pg.Pool({
      connectionString: url,
      application_name: PROGRAM_NAME,
      max: 1,
      connectionTimeoutMillis: 3000,
    }),
  );
  try {
    await migrate(drizzle(pool), { migrationsFolder: MIGRATIONS });
  } finally {
    await pool.end();
  }
}
