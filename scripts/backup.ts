/** `npm run backup -- [FILE]`: writes all that is kept into one file, also while it runs. */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { writeBackup } from './backups.js';
import { keptElsewhere, openStore, readFileAndDatabase } from './kept-where.js';
import { clusterOf } from './postgres.js';
import { fail, runningHere, stamp, STATE } from './state-folder.js';

const { file: name, given } = readFileAndDatabase(
  'npm run backup -- [FILE] [--database URL]: one file, or none for one that is named after the day.',
);
const file = resolve(name ?? `tawny-signal-${stamp()}.backup`);
const isHere =
  given !== null ||
  keptElsewhere() !== null ||
  existsSync(join(STATE, 'postgres.secret')) ||
  runningHere() !== null ||
  clusterOf(STATE) !== null;
if (!isHere) fail('There is nothing to back up yet: nothing was started from this folder.');

let close = (): Promise<void> => Promise.resolve();
try {
  const store = await openStore(given);
  close = store.close;
  await writeBackup(store, file);
  console.log(`\n  Everything is in ${file}.\n`);
} catch (error) {
  process.exitCode = 1;
  console.error(`\n${(error as Error).message}\n`);
} finally {
  await close();
}
