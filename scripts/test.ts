/** `npm test`: static checks, then every test, with a PostgreSQL and a browser of their own. Ends in `N passed, N failed`. */
import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildAll, ROOT } from './build.js';
import { startCluster, type Cluster } from './postgres.js';
import { DATABASES } from './test-stage.js';

const temporary = mkdtempSync(join(tmpdir(), 'tawny-test-'));
chmodSync(temporary, 0o711); // PostgreSQL's user goes through it
let cluster: Cluster | null = null;
let passed = 0;
let failed = 0;

function run(
  program: string,
  args: string[],
  env: Record<string, string> = {},
): Promise<{ code: number; output: string }> {
  return new Promise((done) => {
    const child = spawn(join(ROOT, 'node_modules/.bin', program), args, {
      cwd: ROOT,
      env: { ...process.env, FORCE_COLOR: '0', ...env },
    });
    let output = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (text: Buffer) => (output += text.toString()));
    child.on('exit', (code) => done({ code: code ?? 1, output }));
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

interface JestSummary {
  numPassedTests: number;
  numFailedTests: number;
  numRuntimeErrorTestSuites: number;
}

async function jest(words: string, args: string[]): Promise<void> {
  const summary = join(temporary, `${words.replace(/\W+/g, '-')}.json`);
  const { code, output } = await run(
    'jest',
    [...args, '--json', `--outputFile=${summary}`, '--silent=false'],
    {
      NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
      ...(cluster ? { [DATABASES]: cluster.url('DATABASE') } : {}),
    },
  );
  const read = existsSync(summary) ? (JSON.parse(readFileSync(summary, 'utf8')) as JestSummary) : null;
  passed += read?.numPassedTests ?? 0;
  const lost = (read?.numFailedTests ?? 0) + (read?.numRuntimeErrorTestSuites ?? 0);
  failed += lost === 0 && code !== 0 ? 1 : lost;
  console.log(`${code === 0 ? 'ok    ' : 'FAILED'}  ${words}: ${read?.numPassedTests ?? 0} tests`);
  if (code !== 0) console.log(output);
}

async function end(code: number): Promise<never> {
  await cluster?.stop();
  rmSync(temporary, { recursive: true, force: true });
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void end(1));

const started = performance.now();
const starting = startCluster(temporary, { careless: true });
await Promise.all([
  check('types of core', 'tsc', ['-p', 'core']),
  check('types of server, stand-ins, tests and scripts', 'tsc', ['-p', '.']),
]);
await Promise.all([
  check('types of web', 'tsc', ['-p', 'web']),
  check('format', 'prettier', ['--check', '.']),
]);
await Promise.all([check('lint', 'eslint', ['.', '--max-warnings', '0']), buildAll()]);
cluster = await starting;
await jest('core, web, stand-ins, scripts', ['--selectProjects', 'core', 'web', 'stand-ins', 'scripts']);
await jest('server', ['--selectProjects', 'server', '--maxWorkers=2', '--testTimeout=30000']);
await jest('end to end', ['--selectProjects', 'e2e', '--runInBand', '--testTimeout=120000']);
console.log(`\nin ${Math.round((performance.now() - started) / 1000)} s\n${passed} passed, ${failed} failed`);
await end(failed === 0 && passed > 0 ? 0 : 1);
