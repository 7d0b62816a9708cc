/**
 * `npm run mutate -- [FILES]`: makes small changes in core at random places and looks whether core's own tests notice. Files are patterns like
 * `core/fades/*.ts`; without any, all the folders that carry promises. Says for each folder what was noticed, of the changes that tests reach.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { dirname, join, relative } from 'node:path';
import { ROOT } from './build.js';

const FOLDERS = ['mapping', 'cues', 'fades', 'midi', 'osc', 'dmx', 'routes'];
const ALL = ['core/engine.ts', 'core/ledger.ts', ...FOLDERS.map((name) => `core/${name}/**/*.ts`)];

interface Mutant {
  status: string;
  mutatorName: string;
  replacement?: string;
  location: { start: { line: number } };
}

interface Report {
  files: Record<string, { mutants: Mutant[] }>;
}

const wished = process.argv.slice(2);
const temporary = mkdtempSync(join(tmpdir(), 'tawny-mutate-'));
const report = join(temporary, 'report.json');
const config = join(ROOT, '.stryker-tmp.config.json');
writeFileSync(
  config,
  JSON.stringify({
    mutate: [...(wished.length > 0 ? wished : ALL), '!**/*.test.ts', '!**/*.test-helper.ts', '!**/words.ts'],
    testRunner: 'jest',
    testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
    jest: { configFile: 'jest.core.config.mjs', enableFindRelatedTests: true },
    coverageAnalysis: 'perTest',
    ignoreStatic: true,
    concurrency: 2,
    timeoutMS: 10_000,
    reporters: ['json', 'progress-append-only'],
    jsonReporter: { fileName: report },
    tempDirName: join(temporary, 'sandbox'),
    inPlace: false,
    ignorePatterns: ['.tawny', 'docs', 'web', 'e2e', '**/dist'],
    allowEmpty: false,
    plugins: ['@stryker-mutator/jest-runner'],
  }),
);

const NOTICED = ['Killed', 'Timeout', 'RuntimeError', 'CompileError'];

function tell({ files }: Report): void {
  const folders = new Map<string, { noticed: number; all: number }>();
  for (const [file, { mutants }] of Object.entries(files)) {
    const path = relative(ROOT, join(ROOT, file));
    const folder = folders.get(dirname(path)) ?? { noticed: 0, all: 0 };
    folders.set(dirname(path), folder);
    for (const { status, mutatorName, replacement, location } of mutants) {
      if (status === 'Ignored') continue;
      folder.all++;
      if (NOTICED.includes(status)) folder.noticed++;
      else
        console.log(
          `  ${path}:${location.start.line} ${mutatorName}: ${(replacement ?? '').slice(0, 60)} (${status})`,
        );
    }
  }
  for (const [name, { noticed, all }] of folders)
    console.log(`${name}: ${noticed} of ${all} noticed, ${Math.round((100 * noticed) / Math.max(1, all))} %`);
}

try {
  const { status } = spawnSync(join(ROOT, 'node_modules/.bin/stryker'), ['run', config], {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (status !== 0) process.exitCode = 1;
  else tell(JSON.parse(readFileSync(report, 'utf8')) as Report);
} finally {
  rmSync(config, { force: true });
  rmSync(temporary, { recursive: true, force: true });
}
