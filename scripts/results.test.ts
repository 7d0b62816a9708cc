/** The table of figures of a bench: our own format, so the checks name no source. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createResults } from '../bench/results.js';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-results-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('figures are shown with their goals and with what was kept last, and kept with date and commit', () => {
  const path = join(folder, 'results/figures.csv');
  const first = createResults(path);
  first.add('d route, p99 to relay', 6.8333333, 1.5);
  first.add('a mappings 10000 to 10', 1.02, 1.05);
  first.add('w late p90 ms', 150);
  expect(first.lines()).toEqual([
    '  d route p99 to relay        6.83  goal 1.50, NOT met',
    '  a mappings 10000 to 10      1.02  goal 1.05, met',
    '  w late p90 ms                150',
  ]);
  first.keep('abc1234', '2026-11-27');
  const second = createResults(path);
  second.add('d route, p99 to relay', 1.5, 1.5);
  expect(second.lines()).toEqual(['  d route p99 to relay      1.50  goal 1.50, met        last kept 6.83']);
  second.keep('def5678', '2026-11-28');
  expect(readFileSync(path, 'utf8')).toBe(
    'date,commit,figure,value,goal\n' +
      '2026-11-27,abc1234,d route p99 to relay,6.8333,1.5\n' +
      '2026-11-27,abc1234,a mappings 10000 to 10,1.02,1.05\n' +
      '2026-11-27,abc1234,w late p90 ms,150,\n' +
      '2026-11-28,def5678,d route p99 to relay,1.5,1.5\n',
  );
});
