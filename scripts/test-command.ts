/** Runs the commands that people type, for tests, in a folder of their own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { ROOT } from './build.js';

export interface Command {
  child: ChildProcess;
  /** What it has said so far, on both streams. */
  said(): string;
  /** The code of its end; 1 for one that was killed. */
  ended: Promise<number>;
}

/** @param folder that of what a start keeps */
export function runCommand(
  command: 'start' | 'backup' | 'restore',
  folder: string,
  options: readonly string[] = [],
  env: Record<string, string> = {},
): Command {
  const args = ['--conditions=source', '--import', 'tsx', `scripts/${command}.ts`, ...options];
  const child = spawn(process.execPath, args, {
    cwd: ROOT,
    env: { ...process.env, DATABASE_URL: undefined, NODE_OPTIONS: '', TAWNY_FOLDER: folder, ...env },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (text: Buffer) => (said += text.toString()));
  return {
    child,
    said: () => said,
    ended: new Promise((done) => child.on('exit', (code) => done(code ?? 1))),
  };
}
