/** A program of ours as a process. */
import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from './build.js';

/** A program that is kept running. */
export interface Kept {
  /** The process now; null between its death and its next start. */
  pid(): number | null;
  /** Resolves at its first 'listening'. */
  listening: Promise<number>;
  stop(): Promise<void>;
}

/** A program that does not end in this time is ended. */
const FORCE_MS = 5000;

export interface Program {
  script: string;
  env: Record<string, string>;
  /** Path of its log. */
  log: string;
}

/** Starts a program in a process group of its own, so that it is ended in order and not by the terminal's Ctrl-C. */
export function startProgram({ script, env }: Program, moreStdio: 'pipe'[] = []): ChildProcess {
  return fork(join(ROOT, script), [], {
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe', 'ipc', ...moreStdio],
    execArgv: ['--enable-source-maps'],
    env: { ...process.env, NODE_ENV: 'production', ...env },
  });
}

/** Ends a process, by force where it does not. */
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
