import { execFileSync } from 'node:child_process';
import { constants, mkdtempSync, openSync, rmSync } from 'node:fs';
import { Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { afterAll, expect, test } from '@jest/globals';
import type { Held } from '@tawny-signal/core/ledger';
import { until } from '../scripts/test-stage.js';
import { openLedgerPipe, type LedgerEntry } from './ledger-pipe.js';

const folder = mkdtempSync(join(tmpdir(), 'tawny-ledger-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const note = (number: number): Held => ({
  lineId: 'bells',
  key: `note 0 ${number}`,
  releases: [{ kind: 'noteOff', channel: 0, number, value: 0 }],
});

test('a launcher that does not read for long knows what sounds once it reads, however much was played meanwhile', async () => {
  // A pipe as the launcher's is. Its reading end is opened first, and waits for nobody.
  const path = join(folder, 'pipe');
  execFileSync('mkfifo', [path]);
  const reader = new Socket({
    fd: openSync(path, constants.O_RDONLY | constants.O_NONBLOCK),
    writable: false,
  });
  const pipe = openLedgerPipe(openSync(path, 'w'));
  pipe.put(note(1));
  for (let i = 0; i < 60_000; i++) {
    pipe.put(note(2));
    pipe.remove('bells', 'note 0 2');
  }
  pipe.put(note(3));
  const sounding = new Set<string>();
  let lines = 0;
  createInterface({ input: reader }).on('line', (line) => {
    const [lineId, key, releases] = JSON.parse(line) as LedgerEntry;
    lines++;
    if (releases) sounding.add(`${lineId} ${key}`);
    else sounding.delete(`${lineId} ${key}`);
  });
  await until(() => sounding.has('bells note 0 3'), 'it is known');
  expect([...sounding].sort()).toEqual(['bells note 0 1', 'bells note 0 3']);
  // What nobody needs to know any more was not kept for it.
  expect(lines).toBeLessThan(60_000);
  reader.destroy();
});
