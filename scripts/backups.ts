/**
 * Backups: all shows with their versions and performances, and the piece of the score player, in one file. It is a tar file, compressed, with `backup.json`,
 * `database.dump` (PostgreSQL's own format) and what else there is.
 */
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { create, extract } from 'tar';
import { z } from 'zod';
import { ROOT } from './build.js';
import { makeDatabase, programUrl } from './postgres.js';
import { SCORE_FILES } from './state-folder.js';

/** Where a database is. */
export interface Store {
  /** The address of a database of the cluster for the superuser. */
  ownerUrl(database: string): string;
  /** The folder of the programs of PostgreSQL; empty for those of the path. */
  bin: string;
  database: string;
  /** The folder of the files that are kept beside it. */
  state: string;
}

const FORMAT = 'tawny-signal-backup';
const aboutSchema = z.object({ format: z.literal(FORMAT), version: z.number(), made: z.string() });
const VERSION = 1;
const ABOUT = 'backup.json';
const DUMP = 'database.dump';
const NAMES: readonly string[] = [ABOUT, DUMP, ...SCORE_FILES];
/** The most that a part of a backup may take, in bytes. */
const MOST_BYTES = 8 * 2 ** 30;

/** Why a backup can't be made or restored, in words. */
export class BackupTrouble extends Error {}

function run({ bin }: Store, program: 'pg_dump' | 'pg_restore', url: string, args: string[]): void {
  const address = new URL(url);
  const env = { ...process.env, PGPASSWORD: address.password };
  address.password = '';
  const { status, stderr, error } = spawnSync(`${bin}${program}`, [...args, `--dbname=${address.href}`], {
    env,
    maxBuffer: 1 << 24,
  });
  if (status !== 0)
    throw new BackupTrouble(
      `${program} has failed: ${error?.message ?? stderr.toString().trim().slice(-1000)}`,
    );
}

async function inFolder<T>(act: (folder: string) => Promise<T>): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-backup-'));
  try {
    return await act(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Writes a backup, whole or not at all. @throws BackupTrouble */
export async function writeBackup(store: Store, file: string): Promise<void> {
  if (existsSync(file))
    throw new BackupTrouble(`${file} is there already. Choose another name, or remove it.`);
  await inFolder(async (folder) => {
    const about = { format: FORMAT, version: VERSION, made: new Date().toISOString() };
    writeFileSync(join(folder, ABOUT), JSON.stringify(about));
    const dump = join(folder, DUMP);
    run(store, 'pg_dump', programUrl(store.ownerUrl(store.database)), [
      '--format=custom',
      '--no-owner',
      '--no-privileges',
      `--file=${dump}`,
    ]);
    const others = SCORE_FILES.filter((name) => existsSync(join(store.state, name)));
    for (const name of others) copyFileSync(join(store.state, name), join(folder, name));
    const part = `${file}.part`;
    try {
      await create({ gzip: true, file: part, cwd: folder, portable: true }, [ABOUT, DUMP, ...others]);
      // What is in it is for whoever made it.
      chmodSync(part, 0o600);
      renameSync(part, file);
    } catch (error) {
      rmSync(part, { force: true });
      throw new BackupTrouble(`${file} can’t be written: ${(error as Error).message}`);
    }
  });
}

async function unpack(file: string, folder: string): Promise<void> {
  if (!existsSync(file)) throw new BackupTrouble(`There is no file ${file}.`);
  const isKnown = (path: string, entry: { size?: number }): boolean =>
    NAMES.includes(path) && (entry.size ?? 0) <= MOST_BYTES;
  try {
    await extract({ file, cwd: folder, strict: true, filter: isKnown as never });
    const about = aboutSchema.parse(JSON.parse(readFileSync(join(folder, ABOUT), 'utf8')));
    if (about.version <= VERSION && existsSync(join(folder, DUMP))) return;
  } catch {
    throw new BackupTrouble(`${file} is no backup of Tawny Signal, or a part of it is missing.`);
  }
  throw new BackupTrouble(`${file} was made by a newer version of Tawny Signal. Restore it with that one.`);
}

async function as<T>(url: string, act: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  return act(client).finally(() => client.end());
}

/** Whether nothing was ever kept. */
const isEmpty = ({ ownerUrl, database }: Store): Promise<boolean> =>
  as(ownerUrl(database), async (client) => {
    const { rowCount } = await client.query("select from pg_tables where tablename = 'shows'");
    return rowCount === 0;
  });

/** How many migrations this version knows. */
const migrationsHere = (): number =>
  (
    JSON.parse(readFileSync(join(ROOT, 'server/drizzle/meta/_journal.json'), 'utf8')) as {
      entries: unknown[];
    }
  ).entries.length;

async function check(url: string, file: string): Promise<number> {
  return as(url, async (client) => {
    const { rows: done } = await client.query<{ count: string }>(
      'select count(*) as count from drizzle.__drizzle_migrations',
    );
    if (Number(done[0]!.count) > migrationsHere())
      throw new BackupTrouble(
        `${file} was made by a newer version of Tawny Signal. Restore it with that one.`,
      );
    const { rows } = await client.query<{ count: string }>('select count(*) as count from shows');
    return Number(rows[0]!.count);
  });
}

/**
 * Puts what is in a backup in the place of what is there. If it fails, everything is as it was.
 * @param before the file that what is there is written to first, if there is anything. @returns the number of shows. @throws BackupTrouble
 */
export async function restoreBackup(store: Store, file: string, before: string): Promise<number> {
  const { ownerUrl, database, state } = store;
  const [made, old] = [`${database}_restored`, `${database}_before`];
  const postgres = ownerUrl('postgres');
  const drop = (name: string): Promise<unknown> =>
    as(postgres, (client) =>
      client.query(`drop database if exists ${pg.escapeIdentifier(name)} with (force)`),
    );
  return inFolder(async (folder) => {
    await unpack(file, folder);
    await drop(made);
    await drop(old);
    try {
      await makeDatabase(ownerUrl, made);
      // A file may have anything in it, so it is restored by the role that may do nothing but own its database.
      run(store, 'pg_restore', programUrl(ownerUrl(made)), [
        '--no-owner',
        '--no-privileges',
        '--single-transaction',
        '--exit-on-error',
        join(folder, DUMP),
      ]);
      const count = await check(ownerUrl(made), file);
      if (!(await isEmpty(store))) await writeBackup(store, before);
      await as(postgres, async (client) => {
        await client.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = any($1)', [
          [database, made],
        ]);
        const name = pg.escapeIdentifier;
        await client.query('begin');
        await client.query(`alter database ${name(database)} rename to ${name(old)}`);
        await client.query(`alter database ${name(made)} rename to ${name(database)}`);
        await client.query('commit');
      });
      await drop(old);
      for (const kept of SCORE_FILES) {
        rmSync(join(state, kept), { force: true });
        if (existsSync(join(folder, kept))) copyFileSync(join(folder, kept), join(state, kept));
      }
      // The engine would go on with the show that it kept.
      rmSync(join(state, 'engine'), { recursive: true, force: true });
      return count;
    } catch (error) {
      await drop(made);
      if (error instanceof BackupTrouble) throw error;
      throw new BackupTrouble(`${file} can’t be restored: ${(error as Error).message}`);
    }
  });
}
