/** The folder of what a start keeps, and whether it is in use. Tests use their own. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './build.js';

export const STATE = process.env['TAWNY_FOLDER'] ?? join(ROOT, '.tawny');
export const LOCK = join(STATE, 'running.json');
/** The name of the database. */
export const DATABASE = 'tawny';
/** The piece that the score player was given, and its name. */
export const SCORE_FILES = ['score.mid', 'score.name'] as const;

export function fail(words: string): never {
  console.error(`\n${words}\n`);
  process.exit(1);
}

export const writeLock = (address: string): void =>
  writeFileSync(LOCK, JSON.stringify({ pid: process.pid, address }));

/** Returns the address of the start that runs in this folder, empty if it has none yet or is a restore; null if nothing runs. The lock of a killed start is ignored. */
export function runningHere(): string | null {
  if (!existsSync(LOCK)) return null;
  const { pid, address } = JSON.parse(readFileSync(LOCK, 'utf8')) as { pid: number; address: string };
  return isStart(pid) ? address : null;
}

const isStart = (pid: number): boolean => /scripts\/(?:start|restore)\.ts/.test(commandOf(pid));

/** Systems other than Linux have no /proc. */
function commandOf(pid: number): string {
  if (!existsSync('/proc/self'))
    return spawnSync('ps', ['-p', String(pid), '-o', 'args='], { encoding: 'utf8' }).stdout;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}

/** `2026-11-28-2314`, for names of files. */
export function stamp(now = new Date()): string {
  const two = (value: number): string => String(value).padStart(2, '0');
  const day = [now.getFullYear(), two(now.getMonth() + 1), two(now.getDate())].join('-');
  return `${day}-${two(now.getHours())}${two(now.getMinutes())}`;
}
