/** `npm start`: starts the database, the server and the stand-ins, and prints the address to open. */
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { isIP, Socket } from 'node:net';
import { parseArgs } from 'node:util';
import { ownAddresses } from '../server/people/addresses.js';
import { givenCertificate } from '../server/people/certificate.js';
import { buildAll } from './build.js';
import { checkDatabase, refuseNewer } from './given-database.js';
import { keptElsewhere, noteWhere, readDatabase } from './kept-where.js';
import { firstFree, portTrouble, tryPort } from './ports.js';
import { connected, startCluster } from './postgres.js';
import { openStage, type Stage } from './processes.js';
import { keepPorts, type MovedPort } from './stand-in-ports.js';
import { undoKilledRestore } from './set-aside.js';
import { installService } from './service.js';
import { DATABASE, fail, LOCK, runningHere, SCORE_FILES, STATE, writeLock } from './state-folder.js';

const PORTS = join(STATE, 'ports.json');

interface Options {
  fresh: boolean;
  demo: boolean;
  port: number | null;
  /** Addresses, or `all`; null where it was not said. */
  listen: string[] | null;
  tls: boolean;
  certificate: { cert: string; key: string } | null;
  /** The address of a PostgreSQL that is already there; null for our own cluster. */
  database: string | null;
}

/** @returns the addresses of `--listen A --listen B,C` */
function readListen(given: readonly string[] | undefined): string[] | null {
  if (!given) return null;
  const own = [...ownAddresses(), '127.0.0.1', '::1'];
  const addresses = given.flatMap((text) => text.split(',')).map((text) => text.trim());
  for (const address of addresses) {
    if (address !== 'all' && isIP(address) === 0)
      fail(`--listen ${address}: give an address of this machine, or “all”. It has ${own.join(', ')}.`);
    if (!['all', '0.0.0.0', '::'].includes(address) && !address.startsWith('127.') && !own.includes(address))
      fail(`--listen ${address}: this machine has no such address. It has ${own.join(', ')}.`);
  }
  return addresses;
}

function readOptions(): Options {
  try {
    const { values } = parseArgs({
      options: {
        fresh: { type: 'boolean', default: false },
        'no-demo': { type: 'boolean', default: false },
        port: { type: 'string' },
        listen: { type: 'string', multiple: true },
        tls: { type: 'boolean', default: false },
        cert: { type: 'string' },
        key: { type: 'string' },
        database: { type: 'string' },
        'install-service': { type: 'boolean', default: false },
      },
    });
    const port = values.port === undefined ? null : Number(values.port);
    if (port !== null && !(Number.isInteger(port) && port >= 1 && port <= 65_535)) {
      fail(`--port ${values.port}: a port is a number from 1 to 65535.`);
    }
    const { cert, key, fresh } = values;
    if ((cert === undefined) !== (key === undefined))
      fail('--cert and --key belong together: the certificate and its private key, as files in PEM.');
    const database = readDatabase(values.database);
    if (database !== null && fresh)
      fail('--fresh empties our own database only. Empty yours by hand, or name an empty one.');
    if (values['install-service']) {
      if (fresh) fail('--fresh would empty the show at each start: leave it out of the service.');
      console.log(installService(process.argv.slice(2).filter((one) => one !== '--install-service')));
      process.exit(0);
    }
    const certificate = cert && key ? { cert: resolve(cert), key: resolve(key) } : null;
    return {
      fresh,
      demo: !values['no-demo'],
      port,
      listen: readListen(values.listen),
      tls: values.tls || certificate !== null,
      certificate,
      database,
    };
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
  const trouble = await portTrouble(wished);
  if (trouble !== null) fail(trouble);
  return wished;
}

/** An address without a database. */
const NOBODY = 'postgres://tawny@127.0.0.1:1/tawny';

/** So that nothing begins with half of a backup. */
async function undoRestore(url: string): Promise<void> {
  if (await connected(url, undoKilledRestore))
    console.log('A restore was cut off before it was done: what was here before it is here again.');
}

/** Starts the database. The engine does not wait for it, and plays the last show even without it. @throws if there is no last show and no database */
async function startDatabase(): Promise<string> {
  try {
    if (options.database !== null) {
      await checkDatabase(options.database);
      await undoRestore(options.database);
      noteWhere(options.database);
      console.log('The shows are kept in the database that was given, not in this folder.');
      return options.database;
    }
    const cluster = await startCluster(STATE, { fresh: options.fresh });
    ending.push(() => cluster.stop());
    await cluster.create(DATABASE);
    await refuseNewer(cluster.url(DATABASE));
    await undoRestore(cluster.url(DATABASE));
    const elsewhere = keptElsewhere();
    if (elsewhere !== null)
      console.log(
        `The shows of this folder are used now. Those of the last start are in ${elsewhere}: --database opens them.`,
      );
    noteWhere(null);
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
async function moveLines(address: string, token: string, { was, now }: MovedPort): Promise<void> {
  const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
  const response = await fetch(`${address}api/show`, { headers });
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
      headers,
      body: JSON.stringify(change),
    });
  }
}

/** Says where others find the page, and the passphrases that were made for it: only now are they known. */
async function sayOpening(address: string, { token, passphrases }: Stage): Promise<void> {
  const response = await fetch(`${address}api/people`, { headers: { Authorization: `Bearer ${token}` } });
  if (!response.ok) return;
  const { addresses, troubles } = (await response.json()) as {
    addresses: { url: string; here: boolean }[];
    troubles: { address: string; why: string }[];
  };
  const others = addresses.filter(({ here }) => !here);
  if (others.length > 0)
    console.log(
      `  From other machines, with a name and a passphrase:\n\n${others.map(({ url }) => `    ${url}`).join('\n')}\n`,
    );
  for (const trouble of troubles) console.log(`  Not open at ${trouble.address}: ${trouble.why}\n`);
  if (options.tls && others.length === 0 && troubles.length === 0) sayUnused();
  const made = Object.entries(passphrases);
  if (made.length > 0)
    console.log(
      `  Passphrases, shown once (they are changed under Network in the menu of the show):\n\n${made
        .map(([role, passphrase]) => `    ${role.padEnd(9)} ${passphrase}`)
        .join('\n')}\n`,
    );
}

/** Says that there is nothing to encrypt yet, and what is wrong with a certificate before it is needed. */
function sayUnused(): void {
  try {
    if (options.certificate) givenCertificate(options.certificate, []);
    console.log(
      '  Other machines would be served encrypted, but it is open to none: add --listen, or choose an address under Network and people.\n',
    );
  } catch (error) {
    console.log(`  The certificate can’t be used: ${(error as Error).message}\n`);
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
endWithStarter();

/** Ends when the process ends that has started this one, also if it was killed: the pipe from it closes then. */
function endWithStarter(): void {
  const fd = process.env['TAWNY_STARTER_FD'];
  if (fd === undefined) return;
  // It is of this process alone: what it starts has other pipes.
  delete process.env['TAWNY_STARTER_FD'];
  const pipe = new Socket({ fd: Number(fd), writable: false });
  pipe.on('error', () => end(0)).on('close', () => end(0));
  pipe.resume();
  pipe.unref();
}

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
    {
      databaseUrl: starting,
      port,
      standInPorts: ports,
      state: STATE,
      demo: options.demo,
      ...(options.listen && { listen: options.listen }),
      tls: options.tls,
      ...(options.certificate && { certificate: options.certificate }),
    },
    (who, how) => console.log(`${who} ended (${how}); it is started again.`),
    (words) => console.log(words),
  );
  ending.push(() => stage.stop());
  const address = `http://127.0.0.1:${stage.port}/`;
  for (const port of moved) await moveLines(address, stage.token, port);
  writeLock(address);
  console.log(`\n  Tawny Signal is running. Open\n\n    ${address}\n`);
  await sayOpening(address, stage);
  console.log('  Ctrl-C ends it. Everything you change is kept.\n');
} catch (error) {
  if (!ended) {
    console.error(`\n${error instanceof Error ? error.message : String(error)}\n`);
    end(1);
  }
}
