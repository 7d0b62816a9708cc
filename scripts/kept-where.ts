/** Where the shows of a folder are kept, for the commands that back them up: in its own cluster, or in a database that was given. */
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import type { Store } from './backups.js';
import { checkDatabase, checkedAddress, nameOf, wrongAddress } from './given-database.js';
import { binFolder, clusterOf, connected, programUrl, startCluster } from './postgres.js';
import { undoKilledRestore } from './set-aside.js';
import { DATABASE, fail, runningHere, STATE } from './state-folder.js';

/** Its name, without its password, while the shows of this folder are kept in a database that was given. */
const ELSEWHERE = join(STATE, 'kept-elsewhere');

/** Notes where the shows are kept, so that no other command takes an old cluster for them. @param given the address of the database; null for our own */
export function noteWhere(given: string | null): void {
  if (given === null) rmSync(ELSEWHERE, { force: true });
  else writeFileSync(ELSEWHERE, nameOf(new URL(given)));
}

/** The name of the database that was given last; null if the shows are in this folder. */
export const keptElsewhere = (): string | null =>
  existsSync(ELSEWHERE) ? readFileSync(ELSEWHERE, 'utf8') : null;

/** @param option what `--database` says. @returns the address of the database that was given; null for our own */
export function readDatabase(option: string | undefined): string | null {
  const given = option ?? (process.env['DATABASE_URL'] || null);
  if (given === null) return null;
  const wrong = wrongAddress(given);
  if (wrong !== null) fail(`--database: ${wrong}.`);
  return checkedAddress(given);
}

/** Reads `[FILE] --database URL`. @param usage is said where they are wrong */
export function readFileAndDatabase(usage: string): { file: string | undefined; given: string | null } {
  try {
    const { values, positionals } = parseArgs({
      options: { database: { type: 'string' } },
      allowPositionals: true,
    });
    if (positionals.length > 1) fail(usage);
    return { file: positionals[0], given: readDatabase(values.database) };
  } catch {
    fail(usage);
  }
}

/** Opens what is backed up or restored. Our own cluster is started where it does not run, and `close` ends it. */
export async function openStore(given: string | null): Promise<Store & { close: () => Promise<void> }> {
  mkdirSync(STATE, { recursive: true, mode: 0o711 });
  if (given !== null) {
    await checkDatabase(given);
    await connected(given, undoKilledRestore);
    return { url: given, bin: binFolder(null), state: STATE, close: () => Promise.resolve() };
  }
  const elsewhere = keptElsewhere();
  if (elsewhere !== null)
    throw new Error(
      `The shows of this folder are kept in ${elsewhere}. Say its address, as at the start: --database postgres://user:password@${elsewhere}`,
    );
  const running = runningHere() === null ? null : clusterOf(STATE);
  const own = running ? null : await startCluster(STATE);
  const { ownerUrl, bin } = running ?? own!;
  const url = programUrl(ownerUrl(DATABASE));
  try {
    await own?.create(DATABASE);
    await connected(url, undoKilledRestore);
  } catch (error) {
    await own?.stop();
    throw error;
  }
  return { url, bin, state: STATE, close: () => own?.stop() ?? Promise.resolve() };
}
