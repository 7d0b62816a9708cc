/** Starts the engine, the server and the stand-ins as processes, restarts those that die, and ends them together. */
import { CLOCK_VARIABLE } from '@tawny-signal/core/link/common-clock';
import type { ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { holderOf } from '../engine/drivers/port-holder.js';
import { keepEngine } from './engine-process.js';
import { openLog } from './logs.js';
import { endProgram, startProgram, type Kept, type Listening, type Program } from './program.js';
import type { StandInPorts } from './stand-in-ports.js';

/** The stand-ins that run as processes, by folder, with their names. */
export const STAND_INS = {
  'water-screen': 'The water screen',
  'score-player': 'The score player',
  'lantern-rig': 'The lantern rig',
  'fog-laser': 'The fog laser',
  'bell-player': 'The bell player',
  'quay-stream': 'The quay stream',
  'deck-desk': 'The deck desk',
  'tide-clock': 'The tide clock',
  'front-of-house': 'The front-of-house machine',
} as const;
export type StandInName = keyof typeof STAND_INS;

export interface StageOptions {
  databaseUrl: string | Promise<string>;
  /** 0 for any free port. */
  port: number;
  standInPorts: StandInPorts;
  /** The folder for logs, and for the files of the engine and the stand-ins. */
  state: string;
  demo: boolean;
  /** Addresses to be open at, beside loopback; left out, as it was chosen in the interface. */
  listen?: readonly string[];
  /** Encrypts what other machines are served, with a certificate of our own or one in files. */
  tls?: boolean;
  certificate?: { cert: string; key: string };
  env?: Record<string, string>;
}

const AGAIN_MS = 300;

/** @param holder the result of `holderOf` */
const takenWords = (port: number, holder: string | null): string =>
  `Port ${port}, at which the page is served, is in use by ${holder ?? 'another program'}. Close that one: the page is back then. Signals go on meanwhile.`;

/**
 * Keeps a program running.
 * @param died called with the reason when it has died. @param taken called when it waits for a port that another program has taken meanwhile
 */
export function keepRunning(
  program: Program,
  died: (how: string) => void,
  taken: (port: number) => void = () => undefined,
): Kept {
  const log = openLog(program.log);
  let child: ChildProcess | null = null;
  let stopping = false;
  let heard!: (how: Listening) => void;
  const listening = new Promise<Listening>((done) => (heard = done));

  function start(): void {
    const started = startProgram(program);
    child = started;
    log.take(started);
    started.on('message', (message: { t?: string } & Partial<Listening>) => {
      if (message.t === 'taken') taken(message.port!);
      if (message.t === 'listening') heard({ port: message.port!, passphrases: message.passphrases ?? {} });
    });
    started.on('exit', (code, signal) => {
      child = null;
      if (stopping) return;
      died(signal ?? `code ${code}`);
      setTimeout(() => !stopping && start(), AGAIN_MS);
    });
  }

  start();
  return {
    pid: () => child?.pid ?? null,
    listening,
    async stop() {
      stopping = true;
      if (child) await endProgram(child);
      await log.close();
    },
  };
}

export interface Stage {
  port: number;
  /** Shown to our own programs' calls where even pages of this machine have to sign in. */
  token: string;
  /** The passphrases that were made at this start, by role. */
  passphrases: Readonly<Record<string, string>>;
  engine: Kept;
  server: Kept;
  standIns: Record<StandInName, Kept>;
  stop(): Promise<void>;
}

/**
 * Starts the engine, then the server, then the stand-ins.
 * @param died called with who has died, and how. @param say called with other news, in whole sentences
 * @throws if the server ends before it listens
 */
export async function openStage(
  options: StageOptions,
  died: (who: string, how: string) => void,
  say: (words: string) => void,
): Promise<Stage> {
  const { state } = options;
  const log = (name: string): string => join(state, 'logs', `${name}.log`);
  // The path of a socket must be short, and only this user may enter its folder.
  const reach = mkdtempSync(join(tmpdir(), 'tawny-'));
  const socket =
    process.platform === 'win32' ? `\\\\.\\pipe\\tawny-${process.pid}-${Date.now()}` : join(reach, 'engine');
  const link = {
    TAWNY_ENGINE_SOCKET: socket,
    [CLOCK_VARIABLE]: String(Date.now() - Number(process.hrtime.bigint()) / 1e6),
  };
  const engine = keepEngine(
    {
      script: 'engine/dist/main.js',
      env: { ...link, TAWNY_ENGINE_FOLDER: join(state, 'engine'), ...options.env },
      log: log('engine'),
    },
    (how) => died('The engine', how),
  );
  let failed!: (error: Error) => void;
  const failure = new Promise<never>((_, fail) => (failed = fail));
  let listens = false;
  const standInPorts = JSON.stringify(options.standInPorts);
  const databaseUrl = await Promise.resolve(options.databaseUrl).catch(async (error: unknown) => {
    await engine.stop();
    throw error;
  });
  // What lets our own programs in where even pages of this machine have to sign in.
  const token = randomBytes(24).toString('base64url');
  const env = {
    ...link,
    TAWNY_DATABASE_URL: databaseUrl,
    TAWNY_PORT: String(options.port),
    TAWNY_STATE: state,
    TAWNY_TOKEN: token,
    ...(options.listen ? { TAWNY_LISTEN: options.listen.join() } : {}),
    ...(options.tls ? { TAWNY_TLS: '1' } : {}),
    ...(options.certificate
      ? { TAWNY_CERT: options.certificate.cert, TAWNY_KEY: options.certificate.key }
      : {}),
    ...options.env,
    ...(options.demo ? { TAWNY_DEMO_PORTS: standInPorts } : {}),
  };
  const server = keepRunning(
    { script: 'server/dist/main.js', env, log: log('server') },
    (how) => {
      if (!listens) failed(new Error(`The server could not start (${how}). Its log: ${log('server')}`));
      died('The server', how);
    },
    (port) => void holderOf(port, 'tcp').then((holder) => say(takenWords(port, holder))),
  );
  const endBoth = async (): Promise<void> => {
    await server.stop();
    await engine.stop();
    rmSync(reach, { recursive: true, force: true });
  };
  const { port, passphrases } = await Promise.race([server.listening, failure]).catch(
    async (error: unknown) => {
      await endBoth();
      throw error;
    },
  );
  listens = true;
  // The same port, so that connected clients find it again, and it is waited for.
  Object.assign(env, { TAWNY_PORT: String(port), TAWNY_AGAIN: '1' });
  const standIns = Object.fromEntries(
    Object.entries(STAND_INS).map(([name, words]) => [
      name,
      keepRunning(
        {
          script: `stand-ins/dist/${name}/main.js`,
          env: {
            TAWNY_PORT: String(port),
            TAWNY_STAND_IN_PORTS: standInPorts,
            TAWNY_STATE: state,
            TAWNY_TOKEN: token,
          },
          log: log(name),
        },
        (how) => died(words, how),
      ),
    ]),
  ) as Record<StandInName, Kept>;
  return {
    port,
    token,
    passphrases,
    engine,
    server,
    standIns,
    async stop() {
      // The engine first, so that its releases still reach the receivers.
      await engine.stop();
      await Promise.all(Object.values(standIns).map((standIn) => standIn.stop()));
      await endBoth();
    },
  };
}
