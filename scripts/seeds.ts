/** The seeds of the property tests: fixed by the commit, so that a run can be repeated, or fresh ones for a long run. */
import { execFileSync } from 'node:child_process';

/** Environment variables of the tests: seeds, divided by commas, and how many times the usual runs. */
export const SEEDS = 'TAWNY_SEEDS';
export const RUNS = 'TAWNY_RUNS';

const LARGEST = 0x7fff_ffff;

export const readSeeds = (text: string | undefined): number[] =>
  (text ?? '')
    .split(',')
    .filter((one) => one !== '')
    .map(Number);

/** The first 31 bits of the commit that is checked out in a folder; 1 where it is no clone. */
export function seedOfCommit(folder: string): number {
  try {
    const name = execFileSync('git', ['rev-parse', 'HEAD'], {
      cwd: folder,
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    return parseInt(name.toString().slice(0, 8), 16) & LARGEST;
  } catch {
    return 1;
  }
}

/** Seeds that nobody has seen before. */
export const freshSeeds = (count: number): number[] =>
  Array.from({ length: count }, () => Math.floor(Math.random() * LARGEST));
