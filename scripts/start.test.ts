import { fork, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createSocket } from 'node:dgram';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { fromBuffer } from 'osc-min';
import WebSocket from 'ws';
import { ROOT } from './build.js';
import { randomPorts } from './stand-in-ports.js';
import { runCommand, type Command } from './test-command.js';
import { until } from './test-stage.js';

/** It takes some seconds; on a machine that has too much to do, minutes. */
const START_MS = 300_000;
const TEST_MS = 3 * START_MS;

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-start-'));
  chmodSync(folder, 0o711); // PostgreSQL's user goes through it
});
/** What a test that failed has left running is ended with it. */
const all: Command[] = [];
afterAll(async () => {
  for (const { child } of all) child.kill('SIGINT');
  await Promise.all(all.map(({ ended }) => ended));
  rmSync(folder, { recursive: true, force: true });
}, START_MS);

function start(...options: string[]): Command {
  const started = runCommand('start', folder, options);
  all.push(started);
  return started;
}

async function running(started: Command): Promise<string> {
  return until(
    () => /http:\/\/127\.0\.0\.1:\d+\//.exec(started.said())?.[0] ?? null,
    `it runs: ${started.said()}`,
    START_MS,
  );
}

/** Processes of ours that have our folder in their command line or environment. */
async function leftovers(ours = /postgres|dist\/main|stand-ins\/dist/): Promise<number> {
  const ps = spawn('ps', ['axeww', '-o', 'args']);
  let text = '';
  ps.stdout.on('data', (part: Buffer) => (text += part.toString()));
  await new Promise((done) => ps.on('exit', done));
  return text.split('\n').filter((line) => line.includes(folder) && ours.test(line)).length;
}

async function end(started: Command): Promise<void> {
  started.child.kill('SIGINT');
  expect(await started.ended).toBe(0);
}

const showName = async (address: string): Promise<string> =>
  ((await (await fetch(`${address}api/show`)).json()) as { show: { settings: { name: string } } }).show
    .settings.name;
const rename = (address: string, name: string): Promise<Response> =>
  fetch(`${address}api/show/settings`, {
    method: 'PATCH',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name }),
  });

test(
  'npm start opens the demo, keeps what is changed, and Ctrl-C ends all that it started',
  async () => {
    const first = start();
    const address = await running(first);
    expect(await showName(address)).toBe('The Lantern Pier');
    expect(await leftovers()).toBeGreaterThanOrEqual(2);

    const again = start();
    expect(await again.ended).toBe(1);
    expect(again.said()).toContain(`running from this folder already, at ${address}`);

    const taken = new URL(address).port;
    await rename(address, 'The Lantern Pier, second night');
    await end(first);
    await until(async () => (await leftovers()) === 0, 'nothing is left running');
    expect(existsSync(join(folder, 'running.json'))).toBe(false);

    const second = start('--port', taken);
    expect(await running(second)).toBe(address);
    expect(await showName(address)).toBe('The Lantern Pier, second night');
    await end(second);
  },
  TEST_MS,
);

test(
  '--fresh throws it away, --no-demo begins with nothing',
  async () => {
    const fresh = start('--fresh', '--no-demo');
    expect(await showName(await running(fresh))).toBe('New show');
    await end(fresh);
  },
  TEST_MS,
);

/** Starts by npm, as people do, and finds the process of the first command. */
async function startByNpm(): Promise<{ npm: ChildProcess; bootstrap: number }> {
  const npm = spawn('npm', ['start', '--', '--no-install'], {
    cwd: ROOT,
    detached: true,
    env: { ...process.env, DATABASE_URL: undefined, NODE_OPTIONS: '', TAWNY_FOLDER: folder },
  });
  let said = '';
  for (const stream of [npm.stdout, npm.stderr])
    stream.on('data', (text: Buffer) => (said += text.toString()));
  await until(() => said.includes('Ctrl-C ends it'), `npm start runs: ${said}`, START_MS);
  const { stdout } = spawnSync('pgrep', ['-P', String(npm.pid), '-f', 'bootstrap'], { encoding: 'utf8' });
  return { npm, bootstrap: Number(stdout.trim()) };
}

test.each([
  ['npm', 'SIGINT'],
  ['npm', 'SIGTERM'],
  ['npm', 'SIGHUP'],
  ['npm', 'SIGKILL'],
  ['bootstrap', 'SIGKILL'],
] as const)(
  'all of it ends where %s gets %s',
  async (who, signal) => {
    const { npm, bootstrap } = await startByNpm();
    expect(bootstrap).toBeGreaterThan(0);
    process.kill(who === 'npm' ? npm.pid! : bootstrap, signal);
    await until(async () => (await leftovers()) === 0, 'nothing is left running');
  },
  TEST_MS,
);

test(
  'a start whose launcher was killed leaves nothing running, and the next one goes on',
  async () => {
    const killed = start('--fresh');
    const address = await running(killed);
    // A page that stays open, and one that asks and then keeps its connection, hold nothing up.
    const open = new WebSocket(`${address.replace('http', 'ws')}live`);
    open.on('error', () => undefined);
    await new Promise((done) => open.once('open', done));
    const idle = connect(Number(new URL(address).port), '127.0.0.1');
    idle.on('error', () => undefined);
    idle.write(`GET /api/desk HTTP/1.1\r\nHost: ${new URL(address).host}\r\nConnection: keep-alive\r\n\r\n`);
    await new Promise((done) => idle.once('data', done));
    // The swell is held, at a screen of our own.
    const screen = createSocket('udp4');
    const swells: number[] = [];
    screen.on('message', (bytes) => {
      const packet = fromBuffer(bytes);
      if (packet.oscType === 'message' && packet.address === '/tide/swell')
        swells.push((packet.args[0] as { value: number }).value);
    });
    await new Promise<void>((done) => screen.bind(0, '127.0.0.1', done));
    await fetch(`${address}api/lines/water-screen`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ port: screen.address().port }),
    });
    await until(() => {
      open.send(JSON.stringify({ t: 'try', mappingId: 'swell', pressed: true }));
      return swells.at(-1) === 1;
    }, 'the swell is held');
    const cluster = Number(readFileSync(join(folder, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]);
    killed.child.kill('SIGKILL');
    await killed.ended;
    await until(
      async () => (await leftovers(/(server|engine)\/dist\/main/)) === 0,
      'engine and server end by themselves',
    );
    await until(() => swells.at(-1) === 0, 'the swell was released');
    await until(() => !existsSync(`/proc/${cluster}`), 'PostgreSQL is ended by what outlives the launcher');
    screen.close();
    open.terminate();
    idle.destroy();
    const next = start();
    await running(next);
    await end(next);
    await until(async () => (await leftovers()) === 0, 'nothing is left running');
  },
  TEST_MS,
);

test.each(['engine/dist/main.js', 'server/dist/main.js', 'stand-ins/dist/water-screen/main.js'])(
  '%s ends where the launcher is gone before it has begun to listen',
  async (script) => {
    const env = {
      ...process.env,
      TAWNY_FOLDER: folder,
      TAWNY_STATE: folder,
      TAWNY_PORT: '0',
      TAWNY_DATABASE_URL: 'postgres://nobody@127.0.0.1:1/nothing',
      TAWNY_ENGINE_SOCKET: join(folder, 'nobody'),
      TAWNY_ENGINE_FOLDER: join(folder, 'engine'),
      TAWNY_STAND_IN_PORTS: JSON.stringify(await randomPorts()),
    };
    const child = fork(join(ROOT, script), [], { stdio: 'ignore', execArgv: [], env });
    const ended = new Promise((done) => child.on('exit', done));
    child.disconnect();
    await ended;
  },
  TEST_MS,
);

test.each([
  [['--port', '70000'], '--port 70000: a port is a number from 1 to 65535.'],
  [['--database', 'tawny'], '--database: an address of a database is like postgres://'],
  [['--listen', '192.0.2.7'], '--listen 192.0.2.7: this machine has no such address. It has '],
  [['--tls', '--cert', 'x.pem'], '--cert and --key belong together'],
  [['--prot', '4630'], 'npm start -- --help says what there is.'],
])(
  '%j is refused in words',
  async (options, words) => {
    const refused = start(...options);
    expect(await refused.ended).toBe(1);
    expect(refused.said()).toContain(words);
  },
  TEST_MS,
);
