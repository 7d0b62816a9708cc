/**
 * The figures of a run as one table, with their goals and what was kept last. `npm run bench -- --keep` adds them to bench/results/figures.csv, with the
 * date and the commit and nothing of the machine: compare ratios, which are measured within one run, and not times.
 */
import { execFileSync } from 'node:child_process';
import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

export interface Figure {
  /** Letter of the bench, and what was measured. */
  name: string;
  value: number;
  /** At most this; null for a figure without a goal. */
  goal: number | null;
}

const HEAD = 'date,commit,figure,value,goal\n';

export interface Results {
  add(name: string, value: number, goal?: number): void;
  /** The table, a line a figure. */
  lines(): string[];
  /** Adds the figures to the file. */
  keep(commit: string, date: string): void;
}

const short = (value: number): string => (value >= 100 ? value.toFixed(0) : value.toFixed(2));

/** @returns the last value of each figure in the file */
function lastKept(path: string): Map<string, number> {
  const last = new Map<string, number>();
  if (!existsSync(path)) return last;
  for (const line of readFileSync(path, 'utf8').split('\n').slice(1)) {
    const [, , name, value] = line.split(',');
    if (name && value) last.set(name, Number(value));
  }
  return last;
}

/** @param path of the file of kept figures */
export function createResults(path: string): Results {
  const figures: Figure[] = [];
  return {
    add(name, value, goal) {
      figures.push({ name: name.replaceAll(',', ''), value, goal: goal ?? null });
    },
    lines() {
      const last = lastKept(path);
      const width = Math.max(0, ...figures.map(({ name }) => name.length));
      return figures.map(({ name, value, goal }) => {
        const before = last.get(name);
        const goalWords = goal === null ? '' : `goal ${short(goal)}, ${value <= goal ? 'met' : 'NOT met'}`;
        return `  ${name.padEnd(width)}  ${short(value).padStart(8)}  ${goalWords.padEnd(20)}  ${before === undefined ? '' : `last kept ${short(before)}`}`.trimEnd();
      });
    },
    keep(commit, date) {
      mkdirSync(dirname(path), { recursive: true });
      if (!existsSync(path)) appendFileSync(path, HEAD);
      for (const { name, value, goal } of figures)
        appendFileSync(path, `${date},${commit},${name},${Number(value.toFixed(4))},${goal ?? ''}\n`);
    },
  };
}

/** The commit that is measured; with a mark if files were changed since. */
export function commitNow(root: string): string {
  const git = (...args: string[]): string =>
    execFileSync('git', args, { cwd: root, encoding: 'utf8' }).trim();
  try {
    return git('rev-parse', '--short', 'HEAD') + (git('status', '--porcelain') === '' ? '' : '+');
  } catch {
    return 'unknown';
  }
}

export const resultsFile = (root: string): string => join(root, 'bench/results/figures.csv');
