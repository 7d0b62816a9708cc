import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { binFolder } from './postgres.js';

let data: string;
beforeAll(() => {
  data = mkdtempSync(join(tmpdir(), 'tawny-cluster-'));
});
afterAll(() => rmSync(data, { recursive: true, force: true }));

test('a cluster of a version that is not here is not opened by another, and it is said what to do', () => {
  const newest = binFolder(data);
  const version = /(\d+)\/bin\/$/.exec(newest)![1]!;
  writeFileSync(join(data, 'PG_VERSION'), `${version}\n`);
  expect(binFolder(data)).toBe(newest);
  writeFileSync(join(data, 'PG_VERSION'), '7\n');
  expect(() => binFolder(data)).toThrow(
    /^The show was kept by PostgreSQL 7, and only .* installed here\. Install that version \(sudo apt-get install postgresql-7\), or /,
  );
});
