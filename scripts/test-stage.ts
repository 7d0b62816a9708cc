/** A whole Tawny Signal of its own for a test: fresh database, server, stand-ins, on ports that nobody else has. */
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { openStage, type Stage } from './processes.js';
import { randomPorts, type StandInPorts } from './stand-in-ports.js';

/** Set by `npm test`: where databases can be made. DATABASE stands for a database's name. */
export const DATABASES = 'TAWNY_TEST_DATABASES';

export interface TestStage extends Stage {
  /** Ends with a slash. */
  address: string;
  ports: StandInPorts;
  databaseUrl: string;
  /** Ends server and stand-ins, and starts them again with the same database and ports. */
  restart(): Promise<void>;
}

function databaseUrl(name: string): string {
  const template = process.env[DATABASES];
  if (!template) throw new Error(`${DATABASES} is missing: these tests are run by npm test`);
  return template.replace('DATABASE', name);
}

export async function makeDatabase(): Promise<string> {
  const name = `t_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: databaseUrl('postgres') });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  return databaseUrl(name);
}

export interface TestStageOptions {
  demo?: boolean;
}

export async function openTestStage({ demo = true }: TestStageOptions = {}): Promise<TestStage> {
  const state = mkdtempSync(join(tmpdir(), 'tawny-stage-'));
  const url = await makeDatabase();
  const ports = await randomPorts();
  const options = { databaseUrl: url, port: 0, standInPorts: ports, state, demo, env: { TAWNY_TESTS: '1' } };
  let stage = await openStage(options, () => undefined);
  const test: TestStage = {
    ...stage,
    address: `http://127.0.0.1:${stage.port}/`,
    ports,
    databaseUrl: url,
    async restart() {
      const { port } = stage;
      await stage.stop();
      stage = await openStage({ ...options, port }, () => undefined);
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

/** Waits until something is so, asking again and again. @throws with the last reason when it does not come to be */
export async function until<T>(
  what: () => T | Promise<T>,
  words: string,
  limitMs = 20_000,
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
