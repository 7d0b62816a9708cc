/** The connection to PostgreSQL, which may go and come back while the show goes on. */
import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.js';

export type Database = NodePgDatabase<typeof schema>;
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

/** Nest's name for the connection. */
export const DATABASE = Symbol('database');
export const POOL = Symbol('pool');

const MIGRATIONS = fileURLToPath(new URL('../../drizzle', import.meta.url));

/** @param url postgres://…; a query that gets no answer is given up after 3 s. */
export function openPool(url: string): pg.Pool {
  const pool = new pg.Pool({
    connectionString: url,
    max: 4,
    connectionTimeoutMillis: 3000,
    query_timeout: 3000,
  });
  // An idle connection that breaks is replaced at the next query; whoever asks then is told.
  pool.on('error', () => undefined);
  return pool;
}

export const openDatabase = (pool: pg.Pool): Database => drizzle(pool, { schema });

/** Brings the tables up to what this version wants. */
export async function migrateDatabase(url: string): Promise<void> {
  const pool = new pg.Pool({ connectionString: url, max: 1 });
  try {
    await migrate(drizzle(pool), { migrationsFolder: MIGRATIONS });
  } finally {
    await pool.end();
  }
}
