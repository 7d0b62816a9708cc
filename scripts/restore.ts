/** `npm run restore -- FILE`: puts what is in a backup in the place of what is kept, which is backed up first. */
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { restoreBackup } from './backups.js';
import { openStore, readFileAndDatabase } from './kept-where.js';
import { fail, LOCK, runningHere, stamp, STATE, writeLock } from './state-folder.js';

const USAGE = 'npm run restore -- FILE [--database URL]: a file that npm run backup has written.';
const { file: name, given } = readFileAndDatabase(USAGE);
if (name === undefined) fail(USAGE);
const file = resolve(name);
if (runningHere() !== null)
  fail('Tawny Signal is running from this folder. End it with Ctrl-C, then restore, then start it again.');

mkdirSync(STATE, { recursive: true, mode: 0o711 });
// Nothing is started from here meanwhile.
writeLock('');
let close = (): Promise<void> => Promise.resolve();
try {
  const store = await openStore(given);
  close = store.close;
  const before = join(STATE, `before-restore-${stamp()}-${process.pid}.backup`);
  const count = await restoreBackup(store, file, before);
  const kept = existsSync(before) ? ` What was here before is in ${before}.` : '';
  console.log(`\n  Restored: ${count} ${count === 1 ? 'show' : 'shows'}.${kept}\n  npm start opens it.\n`);
} catch (error) {
  process.exitCode = 1;
  console.error(`\n${(error as Error).message}\nNothing was changed.\n`);
} finally {
  await close();
  rmSync(LOCK, { force: true });
}
