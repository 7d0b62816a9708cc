import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, test } from '@jest/globals';
import { ROOT } from './build.js';

function cruise(root: string, ...folders: string[]): { broken: string[]; modules: number } {
  const args = ['--config', join(ROOT, '.dependency-cruiser.cjs'), '--output-type', 'json', ...folders];
  const { stdout, stderr } = spawnSync(join(ROOT, 'node_modules/.bin/depcruise'), args, {
    cwd: root,
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

test('every import goes the way that the layout allows', () => {
  const { broken, modules } = cruise(ROOT, 'core', 'engine', 'server', 'web/src', 'stand-ins');
  expect(broken).toEqual([]);
  expect(modules).toBeGreaterThan(80);
}, 300_000);

test('imports that go the wrong way are seen', () => {
  const root = mkdtempSync(join(tmpdir(), 'tawny-imports-'));
  const files = {
    'tsconfig.json': '{}',
    'core/a.ts':
      "import { readFileSync } from 'node:fs';\nimport { b } from '../server/b';\nexport const a = [readFileSync, b];\n",
    'server/b.ts': 'export const b = 1;\n',
    'engine/c.ts': "import { b } from '../server/b';\nexport const c = b;\n",
    'server/f.ts': "import { c } from '../engine/c';\nexport const f = c;\n",
    'web/d.ts': "import { b } from '../server/b';\nexport const d = b;\n",
    'stand-ins/e.ts': "import { a } from '../core/a';\nexport const e = a;\n",
  };
  for (const [name, text] of Object.entries(files)) {
    mkdirSync(dirname(join(root, name)), { recursive: true });
    writeFileSync(join(root, name), text);
  }
  const { broken } = cruise(root, 'core', 'engine', 'server', 'web', 'stand-ins');
  rmSync(root, { recursive: true, force: true });
  expect(broken.map((words) => words.split(':')[0]).sort()).toEqual([
    'core-has-no-node',
    'core-stands-alone',
    'engine-imports-core',
    'server-imports-core',
    'stand-ins-are-strangers',
    'web-imports-core',
  ]);
}, 300_000);
