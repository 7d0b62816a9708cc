/** The server and the stand-ins as processes: started, started again when they die, ended together. */
import { fork, type ChildProcess } from 'node:child_process';
import { createWriteStream, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './build.js';
import type { StandInPorts } from './stand-in-ports.js';

/** The stand-ins that are processes of their own, by their folders, and what they are called. */
export const STAND_INS = {
  'water-screen': 'The water screen',
  'score-player': 'The score player',
  'lantern-rig': 'The lantern rig',
  'fog-laser': 'The fog laser',
  'bell-player': 'The bell player',
  'quay-stream': 'The quay stream',
  'deck-desk': 'The deck desk',
} as const;
export type StandInName = keyof typeof STAND_INS;

export interface StageOptions {
  databaseUrl: string;
  /** 0: any free one. */
  port: number;
  standInPorts: StandInPorts;
  /** Folder for logs and what the stand-ins keep. */
  state: string;
  demo: boolean;
  env?: Record<string, string>;
}

export interface Kept {
  /** The process now; null between its death and its next start. */
  pid(): number | null;
  /** Resolves at its first 'listening'. */
  listening: Promise<number>;
  stop(): Promise<void>;
}

const AGAIN_MS = 300;

/** Keeps a program running. @param says called with how it died */
export function keepRunning(
  script: string,
  env: Record<string, string>,
  log: string,
  died: (how: string) => void,
): Kept {
  mkdirSync(join(log, '..'), { recursive: true });
  const out = createWriteStream(log, { flags: 'a' });
  let child: ChildProcess | null = null;
  let stopping = false;
  let heard!: (port: number) => void;
  const listening = new Promise<number>((done) => (heard = done));

  function start(): void {
    const started = fork(join(ROOT, script), [], {
      // Its own process group, so that it is ended in order and not by the terminal's Ctrl-C.
      detached: true,
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      execArgv: ['--enable-source-maps'],
      env: { ...process.env, NODE_ENV: 'production', ...env },
    });
    child = started;
    started.stdout!.pipe(out, { end: false });
    started.stderr!.pipe(out, { end: false });
    started.on('message', (message: { t?: string; port?: number }) => {
      if (message.t === 'listening') heard(message.port!);
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
    stop: () =>
      new Promise((done) => {
        stopping = true;
        const ending = child;
        if (!ending) return done();
        const force = setTimeout(() => ending.kill('SIGKILL'), 5000);
        ending.on('exit', () => {
          clearTimeout(force);
          out.end(done);
        });
        ending.kill('SIGTERM');
      }),
  };
}

export interface Stage {
  port: number;
  server: Kept;
  standIns: Record<StandInName, Kept>;
  stop(): Promise<void>;
}

/** Starts the server, then the stand-ins. @throws if the server ends before it listens */
export async function openStage(
  options: StageOptions,
  died: (who: string, how: string) => void,
): Promise<Stage> {
  const { state } = options;
  const log = (name: string): string => join(state, 'logs', `${name}.log`);
  let failed!: (error: Error) => void;
  const failure = new Promise<never>((_, fail) => (failed = fail));
  let listens = false;
  const env = { TAWNY_DATABASE_URL: options.databaseUrl, TAWNY_PORT: String(options.port), ...options.env };
  const standInPorts = JSON.stringify(options.standInPorts);
  const demo = options.demo ? { TAWNY_DEMO_PORTS: standInPorts } : {};
  const server = keepRunning('server/dist/main.js', { ...env, ...demo }, log('server'), (how) => {
    if (!listens) failed(new Error(`The server could not start (${how}). Its log: ${log('server')}`));
    died('The server', how);
  });
  const port = await Promise.race([server.listening, failure]).catch(async (error: unknown) => {
    await server.stop();
    throw error;
  });
  listens = true;
  const standIns = Object.fromEntries(
    Object.entries(STAND_INS).map(([name, words]) => [
      name,
      keepRunning(
        `stand-ins/dist/${name}/main.js`,
        { TAWNY_PORT: String(port), TAWNY_STAND_IN_PORTS: standInPorts, TAWNY_STATE: state },
        log(name),
        (how) => died(words, how),
      ),
    ]),
  ) as Record<StandInName, Kept>;
  return {
    port,
    server,
    standIns,
    async stop() {
      await Promise.all(Object.values(standIns).map((standIn) => standIn.stop()));
      await server.stop();
    },
  };
}
