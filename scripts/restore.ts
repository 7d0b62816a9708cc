/** `npm run restore -- FILE`: puts what is in a backup in the place of what is kept, which is backed up first. */
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { restoreBackup } from './backups.js';
import { startCluster } from './postgres.js';
import { DATABASE, fail, LOCK, runningHere, stamp, STATE, writeLock } from './state-folder.js';

const [given, ...more] = process.argv.slice(2);
if (given === undefined || more.length > 0 || given.startsWith('-'))
  fail('npm run restore -- FILE: a file that npm run backup has written.');
const file = resolve(given);
if (runningHere() !== null)
  fail('Tawny Signal is running from this folder. End it with Ctrl-C, then restore, then start it again.');

mkdirSync(STATE, { recursive: true, mode: 0o711 });
// Nothing is started from here meanwhile.
writeLock('');
const cluster = await startCluster(STATE);
try {
  await cluster.create(DATABASE);
  const store = { ownerUrl: cluster.ownerUrl, bin: cluster.bin, database: DATABASE, state: STATE };
  const before = join(STATE, `before-restore-${stamp()}-${process.pid}.backup`);
  const count = await restoreBackup(store, file, before);
  const kept = existsSync(before) ? ` What was here before is in ${before}.` : '';
  console.log(`\n  Restored: ${count} ${count === 1 ? 'show' : 'shows'}.${kept}\n  npm start opens it.\n`);
} catch (error) {
  process.exitCode = 1;
  console.error(`\n${(error as Error).message}\nNothing was changed.\n`);
} finally {
  await cluster.stop();
  rmSync(LOCK, { force: true });
}
