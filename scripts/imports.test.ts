import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from '@jest/globals';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const WRONG = join(ROOT, 'core/wrong-on-purpose');

function cruise(...folders: string[]): { broken: string[]; modules: number } {
  const args = ['--config', '.dependency-cruiser.cjs', '--output-type', 'json', ...folders];
  const { stdout, stderr } = spawnSync(join(ROOT, 'node_modules/.bin/depcruise'), args, {
    cwd: ROOT,
    maxBuffer: 1 << 28,
  });
  if (stdout.length === 0) throw new Error(String(stderr));
  const { summary } = JSON.parse(String(stdout)) as {
    summary: { violations: { from: string; to: string; rule: { name: string } }[]; totalCruised: number };
  };
  return {
    broken: summary.violations.map(({ from, to, rule }) => `${rule.name}: ${from} -> ${to}`),
    modules: summary.totalCruised,
  };
}

afterAll(() => rmSync(WRONG, { recursive: true, force: true }));

test('every import goes the way that the layout allows', () => {
  const { broken, modules } = cruise('core', 'server', 'web/src', 'stand-ins');
  expect(broken).toEqual([]);
  expect(modules).toBeGreaterThan(80);
}, 120_000);

test('an import that goes the wrong way is seen', () => {
  mkdirSync(WRONG);
  writeFileSync(
    join(WRONG, 'a.ts'),
    "import { readFileSync } from 'node:fs';\nimport { logger } from '../../server/http/logger.js';\nexport const b = [readFileSync, logger];\n",
  );
  const { broken } = cruise('core/wrong-on-purpose');
  expect(broken.some((words) => words.startsWith('core-stands-alone'))).toBe(true);
  expect(broken.some((words) => words.startsWith('core-has-no-node'))).toBe(true);
}, 120_000);
