import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { until } from '../scripts/test-stage.js';
import { openFinder } from './drivers/network-midi/finder.js';

test('a thread that dies is said, with what may help, and started again; then nothing is wrong any more', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-finder-'));
  const troubles: (string | null)[] = [];
  const found: string[] = [];
  const finder = openFinder(
    { name: join(folder, 'mark'), port: 5004, host: '192.168.1.20', called: [] },
    {
      found: (all) => found.push(...all.map(({ name }) => name)),
      trouble: (words) => troubles.push(words),
    },
    new URL('finder-thread.test-helper.mjs', import.meta.url),
  );
  await until(() => found.length > 0, 'it works at the second try');
  await finder.close();
  rmSync(folder, { recursive: true, force: true });
  expect(troubles).toEqual([
    expect.stringContaining(
      'can’t be found by name at 192.168.1.20 (EADDRINUSE): UDP port 5353 may be in use',
    ),
    null,
  ]);
  expect(found).toEqual(['Quay']);
});
