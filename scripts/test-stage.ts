/** Starts a whole Tawny Signal for a test: a fresh database, a server and stand-ins, on free ports. */
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeDatabase, programUrl } from './postgres.js';
import { openStage, type Stage } from './processes.js';
import { randomPorts, type StandInPorts } from './stand-in-ports.js';

/** Set by `npm test`: the address for creating databases. DATABASE stands for the name of a database. */
export const DATABASES = 'TAWNY_TEST_DATABASES';

export interface TestStage extends Stage {
  /** Ends with a slash. */
  address: string;
  ports: StandInPorts;
  /** The address of its database for the superuser. */
  ownerUrl: string;
  /** The address of its database for the program. */
  databaseUrl: string;
  /** The folder of its logs, and of the state of its engine. */
  state: string;
  /** What a start says beside who died. */
  said: string[];
  /** Restarts everything with the same database and ports. */
  restart(): Promise<void>;
}

function ownerUrl(name: string): string {
  const template = process.env[DATABASES];
  if (!template) throw new Error(`${DATABASES} is missing: these tests are run by npm test`);
  return template.replace('DATABASE', name);
}

/** Creates an empty database. */
async function openDatabase(): Promise<{ url: string; ownerUrl: string }> {
  const name = `t_${randomBytes(6).toString('hex')}`;
  await makeDatabase(ownerUrl, name);
  return { url: programUrl(ownerUrl(name)), ownerUrl: ownerUrl(name) };
}

export interface TestStageOptions {
  demo?: boolean;
  listen?: readonly string[];
  tls?: boolean;
  /** For all of its processes. */
  env?: Record<string, string>;
}

export async function openTestStage({
  demo = true,
  listen = [],
  tls = false,
  env = {},
}: TestStageOptions = {}): Promise<TestStage> {
  const state = mkdtempSync(join(tmpdir(), 'tawny-stage-'));
  const database = await openDatabase();
  const { url } = database;
  const ports = await randomPorts();
  const options = {
    databaseUrl: url,
    port: 0,
    standInPorts: ports,
    state,
    demo,
    ...(listen.length > 0 && { listen }),
    tls,
    env: { TAWNY_TESTS: '1', ...env },
  };
  const said: string[] = [];
  const open = (more: { port?: number } = {}): Promise<Stage> =>
    openStage(
      { ...options, ...more },
      () => undefined,
      (words) => said.push(words),
    );
  let stage = await open();
  const test: TestStage = {
    ...stage,
    address: `http://127.0.0.1:${stage.port}/`,
    ports,
    ownerUrl: database.ownerUrl,
    databaseUrl: url,
    state,
    said,
    async restart() {
      const { port } = stage;
      await stage.stop();
      stage = await open({ port });
      Object.assign(test, stage, { stop });
    },
    stop,
  };
  async function stop(): Promise<void> {
    await stage.stop();
    rmSync(state, { recursive: true, force: true });
  }
  return test;
}

/** Waits until a condition is true, and checks it again and again. @throws with the last reason if it never becomes true */
export async function until<T>(
  what: () => T | Promise<T>,
  words: string,
  limitMs = 60_000,
): Promise<NonNullable<T>> {
  const end = performance.now() + limitMs;
  let last: unknown = null;
  for (;;) {
    try {
      const value = await what();
      if (value !== null && value !== undefined && value !== false) return value as NonNullable<T>;
    } catch (error) {
      last = error;
    }
    if (performance.now() > end) throw new Error(`Not so after ${limitMs} ms: ${words}`, { cause: last });
    await new Promise((done) => setTimeout(done, 25));
  }
}
