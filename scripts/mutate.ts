/**
 * `npm run mutate -- [--lines N] [--seed S] [PATHS]`: makes small changes in core, and looks whether core's own tests notice them. Paths are of files or
 * folders, like `core/fades`; without any, it is all the folders that carry promises. With `--lines` it changes only N lines of each, which the seed chooses at
 * random: all lines take hours. At the end it says for each folder how many were noticed, and names the others.
 */
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { dirname, join, relative } from 'node:path';
import { dice } from '@tawny-signal/core/dice';
import { ROOT } from './build.js';
import { optionsOf } from './options.js';

const FOLDERS = ['mapping', 'hears', 'sends', 'cues', 'fades', 'midi', 'osc', 'dmx', 'routes'];
const ALL = ['core/engine.ts', 'core/engine', 'core/ledger.ts', ...FOLDERS.map((name) => `core/${name}`)];

const { values, positionals } = optionsOf('mutate', {
  allowPositionals: true,
  options: { lines: { type: 'string' }, seed: { type: 'string', default: '1' } },
});

const isCode = (line: string): boolean =>
  /[<>=!?&|+*/%-]|true|false|\(/.test(line) && !/^\s*(import|\/?\*|\/\/)/.test(line);

/** The files of a folder, or the file itself, that are neither tests nor words that people read. */
function filesOf(path: string): string[] {
  if (!statSync(join(ROOT, path)).isDirectory()) return [path];
  return readdirSync(join(ROOT, path), { recursive: true })
    .map((name) => `${path}/${String(name)}`)
    .filter((name) => /\.ts$/.test(name) && !/\.test(-helper)?\.ts$|words\.ts$/.test(name))
    .sort();
}

/** Some lines of code of these files, chosen at random: always the same for the same seed. */
function someLines(files: readonly string[], count: number, seed: number): string[] {
  const roll = dice(seed);
  return files
    .flatMap((file) =>
      readFileSync(join(ROOT, file), 'utf8')
        .split('\n')
        .flatMap((line, at) => (isCode(line) ? [`${file}:${at + 1}-${at + 1}`] : [])),
    )
    .map((line) => ({ line, at: roll() }))
    .sort((x, y) => x.at - y.at)
    .slice(0, count)
    .map(({ line }) => line);
}

const wished = positionals.length > 0 ? positionals : ALL;
const { lines, seed } = values;
const mutate = wished
  .map(filesOf)
  .flatMap((files) => (lines ? someLines(files, Number(lines), Number(seed)) : files));

interface Mutant {
  status: string;
  mutatorName: string;
  replacement?: string;
  location: { start: { line: number } };
}

interface Report {
  files: Record<string, { mutants: Mutant[] }>;
}

const temporary = mkdtempSync(join(tmpdir(), 'tawny-mutate-'));
const report = join(temporary, 'report.json');
const config = join(ROOT, '.stryker-tmp.config.json');
/** All tests of core in one file: jest.core.config.mjs has Jest run just this. */
const all = join(ROOT, 'core/all.mutation.ts');
const tests = readdirSync(join(ROOT, 'core'), { recursive: true })
  .map(String)
  .filter((name) => /^(?!node_modules|dist).*\.test\.ts$/.test(name))
  .sort();
writeFileSync(all, tests.map((name) => `import './${name.replace(/\.ts$/, '.js')}';\n`).join(''));
writeFileSync(
  config,
  JSON.stringify({
    mutate,
    // Words that people read are looked at by people.
    mutator: { excludedMutations: ['StringLiteral'] },
    testRunner: 'jest',
    testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
    jest: { configFile: 'jest.core.config.mjs', enableFindRelatedTests: false },
    coverageAnalysis: 'perTest',
    ignoreStatic: true,
    concurrency: 2,
    // Jest keeps what it has loaded: a runner grows.
    maxTestRunnerReuse: 25,
    timeoutMS: 30_000,
    // A busy machine may need long for all of core's tests.
    dryRunTimeoutMinutes: 30,
    reporters: ['json', 'progress-append-only'],
    jsonReporter: { fileName: report },
    tempDirName: join(temporary, 'sandbox'),
    inPlace: false,
    ignorePatterns: ['.tawny', 'docs', 'web', 'e2e', '**/dist'],
    allowEmpty: false,
    plugins: ['@stryker-mutator/jest-runner'],
  }),
);

const NOTICED = ['Killed', 'Timeout', 'RuntimeError'];

function tell({ files }: Report): void {
  const folders = new Map<string, { noticed: number; late: number; all: number }>();
  for (const [file, { mutants }] of Object.entries(files)) {
    const path = relative(ROOT, join(ROOT, file));
    const folder = folders.get(dirname(path)) ?? { noticed: 0, late: 0, all: 0 };
    folders.set(dirname(path), folder);
    for (const { status, mutatorName, replacement, location } of mutants) {
      if (status === 'Ignored' || status === 'CompileError') continue;
      folder.all++;
      if (status === 'Timeout') folder.late++;
      if (NOTICED.includes(status)) folder.noticed++;
      else
        console.log(
          `  ${path}:${location.start.line} ${mutatorName}: ${(replacement ?? '').slice(0, 60)} (${status})`,
        );
    }
  }
  for (const [name, { noticed, late, all }] of folders)
    console.log(
      `${name}: ${noticed} of ${all} noticed, ${Math.round((100 * noticed) / Math.max(1, all))} %; ${late} of them since tests did not end`,
    );
}

try {
  const { status } = spawnSync(join(ROOT, 'node_modules/.bin/stryker'), ['run', config], {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, TAWNY_FEWER_RUNS: '1' },
  });
  if (status !== 0) process.exitCode = 1;
  else tell(JSON.parse(readFileSync(report, 'utf8')) as Report);
} finally {
  rmSync(config, { force: true });
  rmSync(all, { force: true });
  rmSync(temporary, { recursive: true, force: true });
}
