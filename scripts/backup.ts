/** `npm run backup -- [FILE]`: writes all that is kept into one file, also while it runs. */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { writeBackup } from './backups.js';
import { clusterOf, startCluster } from './postgres.js';
import { DATABASE, fail, runningHere, stamp, STATE } from './state-folder.js';

const [given, ...more] = process.argv.slice(2);
if (more.length > 0 || given?.startsWith('-'))
  fail('npm run backup -- [FILE]: one file, or none for one that is named after the day.');
const file = resolve(given ?? `tawny-signal-${stamp()}.backup`);
if (!existsSync(join(STATE, 'postgres.secret')) && runningHere() === null && !clusterOf(STATE))
  fail('There is nothing to back up yet: nothing was started from this folder.');

const running = runningHere() === null ? null : clusterOf(STATE);
const own = running ? null : await startCluster(STATE);
const { ownerUrl, bin } = running ?? own!;
try {
  await own?.create(DATABASE);
  await writeBackup({ ownerUrl, bin, database: DATABASE, state: STATE }, file);
  console.log(`\n  Everything is in ${file}.\n`);
} catch (error) {
  process.exitCode = 1;
  console.error(`\n${(error as Error).message}\n`);
} finally {
  await own?.stop();
}
