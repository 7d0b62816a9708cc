import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openLog } from './logs.js';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-logs-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A process that says so many lines, as fast as it can, and ends. Its pipe to us is one that it waits for. */
async function talk(log: ReturnType<typeof openLog>, lines: number): Promise<number | null> {
  const script = `for (let i = 0; i < ${lines}; i++) process.stdout.write('line ' + i + ' '.repeat(90) + '\\n')`;
  const child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'pipe'] });
  log.take(child);
  return new Promise((done) => child.on('close', (code) => done(code)));
}

test('a log is begun anew when it is full, and the last files are kept', async () => {
  const log = openLog(join(folder, 'engine.log'), '64K', 3);
  for (let round = 0; round < 4; round++) expect(await talk(log, 1000)).toBe(0);
  await log.close();
  const files = readdirSync(folder).filter((name) => name.startsWith('engine.log'));
  expect(files.sort()).toEqual(['engine.log', 'engine.log.1', 'engine.log.2']);
  // A file is full once a write has gone over it: it has less than two of them more.
  for (const name of files) expect(statSync(join(folder, name)).size).toBeLessThan(3 * 64 * 1024);
  const newest = files
    .map((name) => readFileSync(join(folder, name), 'utf8'))
    .find((text) => text.includes('line 999 '));
  expect(newest).toBeDefined();
});

test('a log that can’t be written stops nobody who writes to it', async () => {
  // A file where the folder should be: no file can be opened there, as on a disk that is gone.
  writeFileSync(join(folder, 'gone'), '');
  const log = openLog(join(folder, 'gone', 'engine.log'));
  expect(await talk(log, 5000)).toBe(0);
  await log.close();
});
