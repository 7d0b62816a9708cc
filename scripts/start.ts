/** `npm start`: starts the database, the server and the stand-ins, and prints the address to open. */
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { buildAll } from './build.js';
import { firstFree, tryPort } from './ports.js';
import { startCluster } from './postgres.js';
import { openStage } from './processes.js';
import { keepPorts, type MovedPort } from './stand-in-ports.js';
import { DATABASE, fail, LOCK, runningHere, SCORE_FILES, STATE, writeLock } from './state-folder.js';

const PORTS = join(STATE, 'ports.json');

function readOptions(): { fresh: boolean; demo: boolean; port: number | null } {
  try {
    const { values } = parseArgs({
      options: {
        fresh: { type: 'boolean', default: false },
        'no-demo': { type: 'boolean', default: false },
        port: { type: 'string' },
      },
    });
    const port = values.port === undefined ? null : Number(values.port);
    if (port !== null && !(Number.isInteger(port) && port >= 1 && port <= 65_535)) {
      fail(`--port ${values.port}: a port is a number from 1 to 65535.`);
    }
    return { fresh: values.fresh, demo: !values['no-demo'], port };
  } catch (error) {
    fail(
      `${error instanceof Error ? error.message : String(error)}\nnpm start -- --help says what there is.`,
    );
  }
}

/** Allows one start at a time in a clone. */
function lock(): void {
  const address = runningHere();
  if (address !== null)
    fail(`Tawny Signal is running from this folder already${address ? `, at ${address}` : ''}.`);
  writeLock('');
}

async function choosePort(wished: number | null): Promise<number> {
  if (wished === null) return firstFree(4630, tryPort);
  if ((await tryPort(wished)) === null)
    fail(`Port ${wished} is in use. Choose another with --port, or leave it out.`);
  return wished;
}

/** An address without a database. */
const NOBODY = 'postgres://tawny@127.0.0.1:1/tawny';

/** Starts the database. The engine does not wait for it, and plays the last show even without it. @throws if there is no last show and no database */
async function startDatabase(): Promise<string> {
  try {
    const cluster = await startCluster(STATE, { fresh: options.fresh });
    ending.push(() => cluster.stop());
    await cluster.create(DATABASE);
    return cluster.url(DATABASE);
  } catch (error) {
    if (!existsSync(join(STATE, 'engine/show.json'))) throw error;
    console.error(`\n${error instanceof Error ? error.message : String(error)}\n`);
    console.error(
      'The engine plays the show that it kept. Nothing can be saved until the database works again: mend it, then end this with Ctrl-C and start again.',
    );
    return NOBODY;
  }
}

/** If a stand-in moved to another port, updates the lines of the show that refer to it. */
async function moveLines(address: string, { was, now }: MovedPort): Promise<void> {
  const response = await fetch(`${address}api/show`);
  if (!response.ok) return;
  const { show } = (await response.json()) as {
    show: { lines: { id: string; host?: string | null; port?: number; listenPort?: number | null }[] };
  };
  console.log(
    `UDP port ${was} is in use by another program: the stand-in there and its line moved to ${now}.`,
  );
  for (const { id, host, port, listenPort } of show.lines) {
    const change =
      host === '127.0.0.1' && port === was ? { port: now } : listenPort === was ? { listenPort: now } : null;
    if (change === null) continue;
    await fetch(`${address}api/lines/${id}`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(change),
    });
  }
}

const options = readOptions();
mkdirSync(STATE, { recursive: true, mode: 0o711 });
lock();
const ending: (() => Promise<void> | void)[] = [() => rmSync(LOCK, { force: true })];
let ended: Promise<void> | null = null;

function end(code: number): void {
  ended ??= (async () => {
    for (const act of ending.reverse()) await act();
    process.exit(code);
  })();
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => end(0));

try {
  if (options.fresh)
    for (const name of ['ports.json', ...SCORE_FILES, 'engine'])
      rmSync(join(STATE, name), { recursive: true, force: true });
  const port = await choosePort(options.port);
  const starting = startDatabase();
  // Errors are reported to those who wait for it.
  starting.catch(() => undefined);
  await buildAll();
  const { ports, moved } = await keepPorts(PORTS);
  const stage = await openStage(
    { databaseUrl: starting, port, standInPorts: ports, state: STATE, demo: options.demo },
    (who, how) => console.log(`${who} ended (${how}); it is started again.`),
  );
  ending.push(() => stage.stop());
  const address = `http://127.0.0.1:${stage.port}/`;
  for (const port of moved) await moveLines(address, port);
  writeLock(address);
  console.log(
    `\n  Tawny Signal is running. Open\n\n    ${address}\n\n  Ctrl-C ends it. Everything you change is kept.\n`,
  );
} catch (error) {
  if (!ended) {
    console.error(`\n${error instanceof Error ? error.message : String(error)}\n`);
    end(1);
  }
}
