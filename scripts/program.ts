/** Runs a program of the project as a process. */
import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from './build.js';

export interface Listening {
  port: number;
  /** Those that were made at this start, by role. */
  passphrases: Readonly<Record<string, string>>;
}

/** A program that is restarted when it ends. */
export interface Kept {
  /** The id of the current process; null between its end and the next start. */
  pid(): number | null;
  /** Resolves when it first reports that it is listening. */
  listening: Promise<Listening>;
  stop(): Promise<void>;
}

/** A program that does not end in this time is killed. */
const FORCE_MS = 5000;

export interface Program {
  script: string;
  env: Record<string, string>;
  /** Options of Node.js. */
  options?: readonly string[];
  /** The path of its log. */
  log: string;
}

/** Starts a program in its own process group, so that Ctrl-C in the terminal does not end it out of order. */
export function startProgram({ script, env, options = [] }: Program, moreStdio: 'pipe'[] = []): ChildProcess {
  return fork(join(ROOT, script), [], {
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc', ...moreStdio],
    execArgv: ['--enable-source-maps', ...options],
    env: { ...process.env, NODE_ENV: 'production', ...env },
  });
}

/** Ends a process, and kills it if it does not end. */
export async function endProgram(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  await new Promise<void>((done) => {
    const force = setTimeout(() => child.kill('SIGKILL'), FORCE_MS);
    child.once('exit', () => {
      clearTimeout(force);
      done();
    });
    child.kill('SIGTERM');
  });
}
