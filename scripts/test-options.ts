/** What `npm test` can be told. */
import { optionsOf } from './options.js';

export interface Options {
  /** A pattern of file names; null for all, with the static checks. */
  only: string | null;
  times: number;
  /** Processes that keep the machine busy. */
  busy: number;
  /** Test files that run at a time. */
  workers: number;
  /** An end-to-end file that fails is run once more, and named as flaky if it passes then. */
  again: boolean;
  /** Fresh seeds that each property is checked with; 0 for the one seed of the commit. */
  seeds: number;
  /** How many times the usual runs of each property. */
  runs: number;
}

export function readOptions(): Options {
  const { values } = optionsOf('test', {
    options: {
      only: { type: 'string' },
      times: { type: 'string', default: '1' },
      busy: { type: 'string', default: '0' },
      workers: { type: 'string', default: '1' },
      again: { type: 'boolean', default: false },
      seeds: { type: 'string', default: '0' },
      runs: { type: 'string', default: '1' },
    },
  });
  function number(
    name: 'times' | 'busy' | 'workers' | 'seeds' | 'runs',
    least: number,
    most: number,
  ): number {
    const value = Number(values[name]);
    if (Number.isInteger(value) && value >= least && value <= most) return value;
    console.error(`\n--${name} ${values[name]}: a number from ${least} to ${most}.\n`);
    process.exit(1);
  }
  return {
    only: values.only ?? null,
    times: number('times', 1, 1000),
    busy: number('busy', 0, 64),
    workers: number('workers', 1, 16),
    again: values.again,
    seeds: number('seeds', 0, 100_000),
    runs: number('runs', 1, 10_000),
  };
}
