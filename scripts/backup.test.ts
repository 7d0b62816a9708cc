/** `npm run backup` and `npm run restore`, with the real commands, folders and clusters of their own. */
import {
  chmodSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { create } from 'tar';
import { runCommand, type Command } from './test-command.js';
import { until } from './test-stage.js';

const START_MS = 300_000;
const TEST_MS = 4 * START_MS;

/** The folder of one machine, and that of another one. */
let here: string;
let there: string;
let files: string;
const running: Command[] = [];
beforeAll(() => {
  [here, there, files] = ['here', 'there', 'files'].map((name) => {
    const folder = mkdtempSync(join(tmpdir(), `tawny-backup-${name}-`));
    chmodSync(folder, 0o711); // PostgreSQL's user goes through it
    return folder;
  }) as [string, string, string];
});
afterAll(async () => {
  for (const { child } of running) child.kill('SIGINT');
  await Promise.all(running.map(({ ended }) => ended));
  for (const folder of [here, there, files]) rmSync(folder, { recursive: true, force: true });
}, START_MS);

function run(folder: string, command: 'start' | 'backup' | 'restore', ...options: string[]): Command {
  const made = runCommand(command, folder, options);
  running.push(made);
  return made;
}

/** @returns the code of its end, and what it said */
async function done(
  folder: string,
  command: 'backup' | 'restore',
  ...options: string[]
): Promise<[number, string]> {
  const { ended, said } = run(folder, command, ...options);
  return [await ended, said()];
}

/** Does something while it runs in a folder. */
async function whileRunning(folder: string, act: (address: string) => Promise<void>): Promise<void> {
  const started = run(folder, 'start');
  const address = await until(
    () => /http:\/\/127\.0\.0\.1:\d+\//.exec(started.said())?.[0],
    'it runs',
    START_MS,
  );
  await act(address);
  started.child.kill('SIGINT');
  expect(await started.ended).toBe(0);
}

const call = async <T>(address: string, method: string, path: string, body?: object): Promise<T> => {
  const response = await fetch(`${address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
  return (await response.json()) as T;
};
const nameOf = async (address: string): Promise<string> =>
  (await call<{ show: { settings: { name: string } } }>(address, 'GET', 'show')).show.settings.name;
const rename = (address: string, name: string): Promise<unknown> =>
  call(address, 'PATCH', 'show/settings', { name });

test(
  'what is backed up while it runs is restored, here and on another machine; bad files change nothing',
  async () => {
    const file = join(files, 'kept.backup');
    await whileRunning(here, async (address) => {
      await rename(address, 'The kept night');
      expect(await done(here, 'backup', file)).toEqual([0, expect.stringContaining(file)]);
      // Only for whoever made it.
      expect(statSync(file).mode & 0o777).toBe(0o600);
      expect(await done(here, 'backup', file)).toEqual([1, expect.stringContaining('is there already')]);
      expect(await done(here, 'restore', file)).toEqual([1, expect.stringContaining('End it with Ctrl-C')]);
      await rename(address, 'The spoilt night');
    });

    const bad = {
      'none.backup': null,
      'text.backup': 'no backup at all',
      'cut.backup': readFileSync(file).subarray(0, 2000),
    };
    for (const [name, bytes] of Object.entries(bad)) {
      if (bytes) writeFileSync(join(files, name), bytes);
      const [code, said] = await done(here, 'restore', join(files, name));
      expect([code, said]).toEqual([1, expect.stringContaining('Nothing was changed.')]);
      expect(said).toMatch(/There is no file|is no backup of Tawny Signal, or a part of it is missing/);
    }
    // Zeros that fill the machine: 128 MB from some 130 kB, as what is said about a backup, and as its dump.
    for (const name of ['backup.json', 'database.dump']) {
      const large = join(files, name);
      writeFileSync(large, '');
      truncateSync(large, 2 ** 27);
      const bomb = join(files, `${name}.backup`);
      await create({ gzip: true, file: bomb, cwd: files, portable: true }, [name]);
      expect(statSync(bomb).size).toBeLessThan(2 * 2 ** 20);
      rmSync(large);
      const [code, said] = await done(here, 'restore', bomb);
      expect([code, said]).toEqual([
        1,
        expect.stringContaining('unpacks to more than a backup of its size has'),
      ]);
    }
    writeFileSync(
      join(files, 'backup.json'),
      JSON.stringify({ format: 'tawny-signal-backup', version: 2, made: '' }),
    );
    await create({ gzip: true, file: join(files, 'newer.backup'), cwd: files }, ['backup.json']);
    expect((await done(here, 'restore', join(files, 'newer.backup')))[1]).toContain(
      'made by a newer version',
    );
    // A dump that breaks off inside: what is there stays.
    writeFileSync(
      join(files, 'backup.json'),
      JSON.stringify({ format: 'tawny-signal-backup', version: 1, made: '' }),
    );
    writeFileSync(join(files, 'database.dump'), 'PGDMP and nothing else');
    await create({ gzip: true, file: join(files, 'broken.backup'), cwd: files }, [
      'backup.json',
      'database.dump',
    ]);
    expect((await done(here, 'restore', join(files, 'broken.backup')))[1]).toContain('Nothing was changed.');
    await whileRunning(here, async (address) => expect(await nameOf(address)).toBe('The spoilt night'));

    expect(await done(here, 'restore', file)).toEqual([0, expect.stringContaining('Restored: 1 show.')]);
    await whileRunning(here, async (address) => expect(await nameOf(address)).toBe('The kept night'));
    // What was there before is kept too; what was refused has left nothing behind.
    const before = readdirSync(here).filter((name) => name.startsWith('before-restore-'));
    expect(before).toHaveLength(1);
    expect(existsSync(join(there, 'postgres'))).toBe(false);
    expect(await done(there, 'restore', join(here, before[0]!))).toEqual([
      0,
      expect.stringContaining('Restored: 1 show.'),
    ]);
    await whileRunning(there, async (address) => expect(await nameOf(address)).toBe('The spoilt night'));
  },
  TEST_MS,
);

test('without anything there is nothing to back up, and what is no file is refused', async () => {
  const nowhere = join(files, 'nowhere');
  expect(await done(nowhere, 'backup', join(files, 'x.backup'))).toEqual([
    1,
    expect.stringContaining('nothing was started from this folder'),
  ]);
  expect(await done(nowhere, 'restore')).toEqual([1, expect.stringContaining('npm run restore -- FILE')]);
  expect(await done(nowhere, 'backup', '--all')).toEqual([1, expect.stringContaining('npm run backup')]);
}, 120_000);
