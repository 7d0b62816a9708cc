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
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { create, extract } from 'tar';
import { z } from 'zod';
import { PROGRAM_NAME } from '../server/database/database.js';
import { lastKnownMigration, programAddress } from './given-database.js';
import { connected } from './postgres.js';
import {
  forget,
  hasShows,
  lockRestores,
  MIGRATIONS_SCHEMA,
  OUR_TABLES,
  putBack,
  setAside,
} from './set-aside.js';
import { SCORE_FILES } from './state-folder.js';

/** A database, and what is kept beside it. */
export interface Store {
  /** The address of the database for the program. */
  url: string;
  /** The folder of the programs of PostgreSQL; empty for those of the path. */
  bin: string;
  /** The folder of the files that are kept beside it. */
  state: string;
}

const FORMAT = 'tawny-signal-backup';
const aboutSchema = z.object({ format: z.literal(FORMAT), version: z.number(), made: z.string() });
const VERSION = 1;
const ABOUT = 'backup.json';
const DUMP = 'database.dump';
const NAMES: readonly string[] = [ABOUT, DUMP, ...SCORE_FILES];
const MB = 2 ** 20;
/** The most that the parts of a backup may take, in bytes. What is said about it is read at once. */
const MOST_BYTES: Readonly<Record<string, number>> = { [ABOUT]: 64 * 1024, [DUMP]: 8192 * MB };
const MOST_OF_A_FILE = 64 * MB;
/** A dump is packed already, so that a backup unpacks to about its own size. One that unpacks to far more is made to fill this machine. */
const MOST_TIMES = 20;
const ALWAYS_FITS = 64 * MB;

/** Why a backup can't be made or restored, in words. */
export class BackupTrouble extends Error {}

const newer = (file: string): BackupTrouble =>
  new BackupTrouble(`${file} was made by a newer version of Tawny Signal. Restore it with that one.`);
const noBackup = (file: string): BackupTrouble =>
  new BackupTrouble(`${file} is no backup of Tawny Signal, or a part of it is missing.`);

const bomb = (file: string): BackupTrouble =>
  new BackupTrouble(`${file} unpacks to more than a backup of its size has: it is none of ours.`);

/** Runs a program of PostgreSQL. @returns what it writes. @throws BackupTrouble */
function run({ bin }: Store, program: 'pg_dump' | 'pg_restore', args: string[], url?: string): string {
  const to: string[] = [];
  const env = { ...process.env };
  if (url !== undefined) {
    const address = programAddress(url);
    // A password in the command line could be read by everybody on this machine.
    env['PGPASSWORD'] = new pg.Client({ connectionString: url }).password ?? '';
    address.password = '';
    to.push(`--dbname=${address.href}`);
  }
  const { status, stdout, stderr, error } = spawnSync(`${bin}${program}`, [...args, ...to], {
    env,
    encoding: 'utf8',
    maxBuffer: 1 << 24,
  });
  if ((error as NodeJS.ErrnoException | undefined)?.code === 'ENOENT')
    throw new BackupTrouble(
      `${program} is missing. Install the programs of PostgreSQL (on Debian: sudo apt-get install postgresql-client).`,
    );
  if (status === 0) return stdout;
  const said = error?.message ?? stderr.trim().slice(-1000);
  const old = /server version mismatch|unsupported version/.test(said)
    ? '\nThe database is of a newer PostgreSQL than the programs here: install those of its version.'
    : '';
  throw new BackupTrouble(`${program} has failed: ${said}${old}`);
}

async function inFolder<T>(act: (folder: string) => Promise<T>): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-backup-'));
  try {
    return await act(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The tables of other programs, in a database that they share with us. */
async function othersIn(client: pg.Client): Promise<string[]> {
  const { rows } = await client.query<{ name: string }>(
    `select format('%I.%I', schemaname, tablename) as name from pg_tables
     where schemaname not in ('pg_catalog', 'information_schema', $1)
     and not (schemaname = 'public' and tablename = any($2))`,
    [MIGRATIONS_SCHEMA, OUR_TABLES],
  );
  return rows.map(({ name }) => name);
}

/** Writes a backup, whole or not at all. @throws BackupTrouble */
export async function writeBackup(store: Store, file: string): Promise<void> {
  if (existsSync(file))
    throw new BackupTrouble(`${file} is there already. Choose another name, or remove it.`);
  const others = await connected(store.url, async (client) => {
    if (!(await hasShows(client)))
      throw new BackupTrouble('There is nothing to back up yet: no show is kept there.');
    return othersIn(client);
  });
  await inFolder(async (folder) => {
    const about = { format: FORMAT, version: VERSION, made: new Date().toISOString() };
    writeFileSync(join(folder, ABOUT), JSON.stringify(about));
    const args = ['--format=custom', '--no-owner', '--no-privileges', `--file=${join(folder, DUMP)}`];
    run(store, 'pg_dump', [...args, ...others.map((table) => `--exclude-table=${table}`)], store.url);
    const files = SCORE_FILES.filter((name) => existsSync(join(store.state, name)));
    for (const name of files) copyFileSync(join(store.state, name), join(folder, name));
    const part = `${file}.part`;
    try {
      await create({ gzip: true, file: part, cwd: folder, portable: true }, [ABOUT, DUMP, ...files]);
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
  const most = Math.max(ALWAYS_FITS, statSync(file).size * MOST_TIMES);
  let bytes = 0;
  let tooLarge = false;
  // It is unpacked as it is read. What is left out is passed over, and not kept.
  const isTaken = (path: string, entry: { size?: number }): boolean => {
    if (!NAMES.includes(path) || tooLarge) return false;
    const size = entry.size ?? 0;
    bytes += size;
    tooLarge = size > (MOST_BYTES[path] ?? MOST_OF_A_FILE) || bytes > most;
    return !tooLarge;
  };
  try {
    await extract({ file, cwd: folder, strict: true, filter: isTaken as never });
    if (tooLarge) throw bomb(file);
    const about = aboutSchema.parse(JSON.parse(readFileSync(join(folder, ABOUT), 'utf8')));
    if (about.version <= VERSION && existsSync(join(folder, DUMP))) return;
  } catch (error) {
    // The package gives up, too, what unpacks to a thousand times its size.
    const isBomb = tooLarge || /decompression/i.test((error as Error).message);
    throw error instanceof BackupTrouble ? error : isBomb ? bomb(file) : noBackup(file);
  }
  throw newer(file);
}

/** The entries of a dump that are restored: what tables consist of, and no functions, triggers or views. A file may have anything in it. */
const OURS =
  /^\d+; \d+ \d+ (?:TABLE|TABLE DATA|SEQUENCE|SEQUENCE OWNED BY|SEQUENCE SET|DEFAULT|CONSTRAINT|FK CONSTRAINT|INDEX) (?:public|drizzle) /;

/**
 * Looks into a dump before anything is changed. @returns its entries that are restored, as `pg_restore --use-list` takes them.
 * @throws BackupTrouble if a newer version made it, or it has no shows
 */
function checkDump(store: Store, dump: string, file: string): string {
  const entries = run(store, 'pg_restore', ['--list', dump])
    .split('\n')
    .filter((entry) => OURS.test(entry));
  if (!entries.some((entry) => / TABLE public shows /.test(entry))) throw noBackup(file);
  const rows = run(store, 'pg_restore', ['--data-only', `--schema=${MIGRATIONS_SCHEMA}`, '--file=-', dump]);
  // Each row: its id, a hash, when the migration was made.
  const made = [...rows.matchAll(/^\d+\t[^\t]+\t(\d+)$/gm)].map(([, when]) => Number(when));
  if (Math.max(...made) > lastKnownMigration()) throw newer(file);
  return entries.join('\n');
}

/** @throws BackupTrouble if a Tawny Signal keeps its shows in this database now */
async function refuseUsed(client: pg.Client): Promise<void> {
  const { rows } = await client.query<{ address: string | null }>(
    `select client_addr as address from pg_stat_activity
     where datname = current_database() and application_name = $1 limit 1`,
    [PROGRAM_NAME],
  );
  if (rows[0])
    throw new BackupTrouble(
      `Tawny Signal is running with this database, from ${rows[0].address ?? 'its own machine'}. End it with Ctrl-C, then restore, then start it again.`,
    );
}

/**
 * Puts what is in a backup in the place of what is there. If it fails or is killed, everything is as it was: after a kill, once the next start or restore
 * has begun.
 * @param before the file that what is there is written to first, if there is anything. @returns the number of shows. @throws BackupTrouble
 */
export async function restoreBackup(store: Store, file: string, before: string): Promise<number> {
  return inFolder(async (folder) => {
    await unpack(file, folder);
    const dump = join(folder, DUMP);
    const list = join(folder, 'entries');
    writeFileSync(list, checkDump(store, dump, file));
    return connected(store.url, async (client) => {
      if (!(await lockRestores(client)))
        throw new BackupTrouble('Another restore is at work in this database.');
      await refuseUsed(client);
      if (await hasShows(client)) await writeBackup(store, before);
      const files = SCORE_FILES.map((name) => ({ from: join(folder, name), to: join(store.state, name) }));
      try {
        // All that can fail comes before the moment from which there is no way back.
        for (const { from, to } of files) if (existsSync(from)) copyFileSync(from, `${to}.restored`);
        await setAside(client);
        const whole = ['--no-owner', '--no-privileges', '--single-transaction', '--exit-on-error'];
        run(store, 'pg_restore', [...whole, `--use-list=${list}`, dump], store.url);
        const { rows } = await client.query<{ count: string }>('select count(*) as count from public.shows');
        // The engine would go on with the show that it kept.
        rmSync(join(store.state, 'engine'), { recursive: true, force: true });
        await forget(client);
        for (const { from, to } of files) {
          if (existsSync(from)) renameSync(`${to}.restored`, to);
          else rmSync(to, { force: true });
        }
        return Number(rows[0]!.count);
      } catch (error) {
        await putBack(client);
        for (const { to } of files) rmSync(`${to}.restored`, { recursive: true, force: true });
        if (error instanceof BackupTrouble) throw error;
        throw new BackupTrouble(`${file} can’t be restored: ${(error as Error).message}`);
      }
    });
  });
}
