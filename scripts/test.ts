/**
 * `npm test`: static checks, then every test, with a PostgreSQL and a browser of their own. Ends in `N passed, N failed`.
 * With `--only` it runs chosen files again and again, with busy processes beside them if wished.
 * With `--seeds` it checks the properties with that many fresh seeds, and with `--runs` that many times the usual runs.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { buildAll, ROOT } from './build.js';
import { startCluster, type Cluster } from './postgres.js';
import { freshSeeds, RUNS, SEEDS, seedOfCommit } from './seeds.js';
import { readOptions } from './test-options.js';
import { DATABASES } from './test-stage.js';

const options = readOptions();
const temporary = mkdtempSync(join(tmpdir(), 'tawny-test-'));
chmodSync(temporary, 0o711); // PostgreSQL's user goes through it
const seeds = options.seeds > 0 ? freshSeeds(options.seeds) : [seedOfCommit(ROOT)];
let cluster: Cluster | null = null;
let passed = 0;
let failed = 0;
const running = new Set<ChildProcess>();

/** A program that has written its result has this long to end by itself. */
const ENDS_MS = 30_000;

/** Ends a program with all that it started. */
function kill(child: ChildProcess): void {
  try {
    process.kill(-child.pid!, 'SIGKILL');
  } catch {
    // It has ended.
  }
}

/** @param result a file that it writes last; once it is there, the program has half a minute to end */
function run(
  program: string,
  args: string[],
  env: Record<string, string> = {},
  result: string | null = null,
): Promise<{ code: number; late: boolean; output: string }> {
  return new Promise((done) => {
    const child = spawn(join(ROOT, 'node_modules/.bin', program), args, {
      cwd: ROOT,
      // It leads a group of processes, so that it can be ended with what it started.
      detached: true,
      env: { ...process.env, FORCE_COLOR: '0', ...env },
    });
    running.add(child);
    let output = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (text: Buffer) => (output += text.toString()));
    let writtenAt = 0;
    let late = false;
    const watch = setInterval(() => {
      if (result === null || !existsSync(result)) return;
      writtenAt ||= performance.now();
      late = performance.now() > writtenAt + ENDS_MS;
      if (late) kill(child);
    }, 1000);
    child.on('exit', (code) => {
      clearInterval(watch);
      running.delete(child);
      done({ code: code ?? 1, late, output });
    });
  });
}

async function check(words: string, program: string, args: string[]): Promise<void> {
  const { code, output } = await run(program, args);
  console.log(`${code === 0 ? 'ok    ' : 'FAILED'}  ${words}`);
  if (code === 0) passed++;
  else {
    failed++;
    console.log(output);
  }
}

interface JestResult {
  success: boolean;
  numPassedTests: number;
  numFailedTests: number;
  numRuntimeErrorTestSuites: number;
  testResults: {
    name: string;
    status: string;
    startTime: number;
    endTime: number;
    assertionResults: { fullName: string; status: string }[];
  }[];
}

interface Ran {
  passed: number;
  failed: number;
  /** Files with a test that failed, and the names of those tests. */
  failures: Map<string, string[]>;
  /** The files that took longest, with their seconds. */
  slowest: string[];
  output: string;
}

const SLOWEST = 8;

let runs = 0;

async function runJest(args: string[]): Promise<Ran> {
  const file = join(temporary, `run-${++runs}.json`);
  const { code, late, output } = await run(
    'jest',
    [...args, '--json', `--outputFile=${file}`, '--silent=false', '--forceExit'],
    {
      NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
      [SEEDS]: seeds.join(','),
      [RUNS]: String(options.runs),
      ...(cluster ? { [DATABASES]: cluster.ownerUrl('DATABASE') } : {}),
    },
    file,
  );
  const read = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as JestResult) : null;
  if (late) console.log('        Jest did not end by itself after its last test, and was ended.');
  const lost = (read?.numFailedTests ?? 0) + (read?.numRuntimeErrorTestSuites ?? 0);
  const failures = new Map<string, string[]>();
  for (const { name, status, assertionResults } of read?.testResults ?? []) {
    if (status !== 'failed') continue;
    const names = assertionResults.filter((one) => one.status === 'failed').map((one) => one.fullName);
    failures.set(relative(ROOT, name), names);
  }
  return {
    passed: read?.numPassedTests ?? 0,
    failed: lost === 0 && (late ? !read?.success : code !== 0) ? 1 : lost,
    failures,
    slowest: (read?.testResults ?? [])
      .map(({ name, startTime, endTime }) => ({ name, s: Math.round((endTime - startTime) / 1000) }))
      .sort((one, other) => other.s - one.s)
      .slice(0, SLOWEST)
      .map(({ name, s }) => `${relative(ROOT, name)} ${s} s`),
    output,
  };
}

function tell(words: string, ran: Ran): void {
  console.log(`${ran.failed === 0 ? 'ok    ' : 'FAILED'}  ${words}: ${ran.passed} tests`);
  console.log(`        slowest: ${ran.slowest.join(', ')}`);
  if (ran.failed > 0) console.log(ran.output);
}

async function jest(words: string, args: string[]): Promise<void> {
  const ran = await runJest(args);
  tell(words, ran);
  passed += ran.passed;
  failed += ran.failed;
}

const END_TO_END = ['--selectProjects', 'e2e', '--runInBand', '--testTimeout=300000'];

/** @returns tests that failed and passed when their file was run once more */
async function endToEnd(): Promise<string[]> {
  const ran = await runJest(END_TO_END);
  tell('end to end', ran);
  passed += ran.passed;
  failed += ran.failed;
  if (!options.again || ran.failures.size === 0) return [];
  const flaky: string[] = [];
  for (const [file, names] of ran.failures) {
    const second = await runJest([...END_TO_END, '--runTestsByPath', file]);
    tell(`${file}, once more`, second);
    if (second.failed > 0) continue;
    passed += names.length;
    failed -= Math.max(1, names.length);
    flaky.push(...names.map((name) => `${file}: ${name}`));
  }
  return flaky;
}

async function everything(): Promise<string[]> {
  const starting = startCluster(temporary, { careless: true });
  await Promise.all([
    check('types of core', 'tsc', ['-p', 'core']),
    check('types of engine, server, stand-ins, tests and scripts', 'tsc', ['-p', '.']),
  ]);
  await Promise.all([
    check('types of web', 'tsc', ['-p', 'web']),
    check('format', 'prettier', ['--check', '.']),
  ]);
  await Promise.all([check('lint', 'eslint', ['.', '--max-warnings', '0']), buildAll()]);
  cluster = await starting;
  await jest('core, engine, web, stand-ins, scripts', [
    '--selectProjects',
    'core',
    'engine',
    'web',
    'stand-ins',
    'scripts',
    '--testTimeout=120000',
  ]);
  await jest('server', ['--selectProjects', 'server', '--maxWorkers=2', '--testTimeout=240000']);
  return endToEnd();
}

/** @returns a pattern that matches the test files with properties */
function filesWithProperties(): string {
  const files = ['core', 'engine', 'web/src'].flatMap((folder) =>
    readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.test.ts') && !name.includes('node_modules'))
      .map((name) => join(folder, name)),
  );
  const withProperties = files.filter((file) =>
    readFileSync(join(ROOT, file), 'utf8').includes(`from 'fast-check'`),
  );
  return `/(${withProperties.join('|').replaceAll('.', '\\.')})$`;
}

/** Chosen files, again and again. */
async function chosen(pattern: string): Promise<void> {
  [cluster] = await Promise.all([startCluster(temporary, { careless: true }), buildAll()]);
  const busy = Array.from({ length: options.busy }, () =>
    spawn(process.execPath, ['-e', 'for (;;);'], { stdio: 'ignore', detached: true }),
  );
  for (const child of busy) running.add(child);
  const timeout = 300_000 * Math.max(1, options.seeds) * options.runs;
  for (let round = 1; round <= options.times; round++) {
    const ran = await runJest([`--maxWorkers=${options.workers}`, `--testTimeout=${timeout}`, pattern]);
    passed += ran.passed;
    failed += ran.failed;
    const names = [...ran.failures.values()].flat();
    console.log(
      `${ran.failed === 0 ? 'ok    ' : 'FAILED'}  round ${round} of ${options.times}: ${ran.passed} passed, ${ran.failed} failed${names.length > 0 ? `: ${names.join('; ')}` : ''}`,
    );
    if (ran.failed > 0) console.log(ran.output);
  }
}

async function end(code: number): Promise<never> {
  for (const child of running) kill(child);
  await cluster?.stop();
  rmSync(temporary, { recursive: true, force: true });
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void end(1));

const started = performance.now();
console.log(
  options.seeds > 0
    ? `properties: ${options.seeds} fresh seeds, ${options.runs} times the runs`
    : `properties: seed ${seeds[0]}, of this commit`,
);
const pattern = options.only ?? (options.seeds > 0 || options.runs > 1 ? filesWithProperties() : null);
const flaky = pattern === null ? await everything() : (await chosen(pattern), []);
console.log(`\nin ${Math.round((performance.now() - started) / 1000)} s`);
for (const name of flaky) console.log(`FLAKY  ${name}`);
console.log(`${passed} passed, ${failed} failed`);
await end(failed === 0 && passed > 0 ? 0 : 1);
