/** A system that is not Debian: PostgreSQL is taken from the path, and where it is missing it is said how to install it. */
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { ROOT } from './build.js';
import { binFolder } from './postgres.js';
import { runCommand, type Command } from './test-command.js';
import { until } from './test-stage.js';

const NOWHERE = '/nowhere/postgresql';
let folder: string;
let started: Command | null = null;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-elsewhere-'));
  chmodSync(folder, 0o711); // PostgreSQL's user goes through it
});
afterAll(async () => {
  started?.child.kill('SIGTERM');
  await started?.ended;
  rmSync(folder, { recursive: true, force: true });
}, 120_000);

test('without PostgreSQL and without apt-get, one line says what to install', () => {
  const { status, stderr } = spawnSync(process.execPath, ['scripts/bootstrap.mjs', 'start'], {
    cwd: ROOT,
    env: { PATH: folder, TAWNY_POSTGRES: NOWHERE, TAWNY_FOLDER: folder },
    encoding: 'utf8',
  });
  expect(status).toBe(1);
  expect(stderr.trim().split('\n')).toEqual([
    expect.stringMatching(
      /^PostgreSQL is missing: postgres and initdb are not on the path\. Install it: .* --database /,
    ),
  ]);
});

test('PostgreSQL of the path keeps the show, and is ended with it', async () => {
  const bin = binFolder(folder);
  started = runCommand('start', folder, [], {
    PATH: `${bin}:${process.env['PATH']}`,
    TAWNY_POSTGRES: NOWHERE,
  });
  const { child, said, ended } = started;
  const address = await until(
    () => /http:\/\/127\.0\.0\.1:\d+\//.exec(said())?.[0] ?? null,
    'it runs',
    300_000,
  ).catch((error: unknown) => {
    throw new Error(`${String(error)}: ${said()}`);
  });
  const show = async (): Promise<string> => (await fetch(`${address}api/show`)).text();
  await until(async () => (await show()).includes('The Lantern Pier'), 'the show is kept');
  child.kill('SIGTERM');
  expect(await ended).toBe(0);
}, 600_000);
