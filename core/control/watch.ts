/** Watches one control: what it sent, how often, and whether it changes without being touched. */

export interface Sample {
  /** Milliseconds, never falling. */
  at: number;
  value: number;
}

/** How long values are kept. */
export const WINDOW_MS = 30_000;
/** The time over which a control is judged. */
export const JUDGED_MS = 4000;
const MOST_SAMPLES = 20_000;

/** A control is restless if it has at least this many changes in JUDGED_MS, */
const FREQUENT = 10;
/** within this small part of its whole range, */
const SMALL = 0.065;
/** with at least this share of changes of direction, */
const TURNS = 0.25;
/** and without moving away: the means of the first and the second half differ by at most this part of the spread. */
const DRIFT = 0.4;

export interface Restless {
  /** The value around which it moves. */
  mean: number;
  least: number;
  most: number;
  changesPerSecond: number;
  /** The deadband that would block all of these changes. */
  deadband: number;
}

export interface Seen {
  count: number;
  last: number | null;
  least: number | null;
  most: number | null;
  /** The number of different values. */
  distinct: number;
  /** Messages in the last second. */
  perSecond: number;
  restless: Restless | null;
}

export interface ControlWatch {
  add(value: number, at: number): void;
  /** The values of the last 30 s, the oldest first. Do not change the list. */
  samples(): readonly Sample[];
  /** Returns what was seen since the start, and whether it is restless now. */
  look(now: number): Seen;
}

/** @param high the largest value of the control; null if it can only be learned from what it sends */
export function createControlWatch(high: number | null): ControlWatch {
  let samples: Sample[] = [];
  const distinct = new Set<number>();
  let count = 0;
  let least = Infinity;
  let most = -Infinity;

  return {
    add(value, at) {
      samples.push({ at, value });
      if (samples.length > MOST_SAMPLES || samples[0]!.at < at - 2 * WINDOW_MS)
        samples = samples.filter((sample) => sample.at > at - WINDOW_MS).slice(-MOST_SAMPLES / 2);
      count++;
      if (distinct.size < MOST_SAMPLES) distinct.add(value);
      least = Math.min(least, value);
      most = Math.max(most, value);
    },
    samples: () => samples,
    look(now) {
      const judged = samples.filter(({ at }) => at > now - JUDGED_MS);
      return {
        count,
        last: samples.at(-1)?.value ?? null,
        least: count > 0 ? least : null,
        most: count > 0 ? most : null,
        distinct: distinct.size,
        perSecond: samples.filter(({ at }) => at > now - 1000).length,
        restless: judgeRestless(judged, high ?? Math.max(1, Math.abs(least), Math.abs(most)), now),
      };
    },
  };
}

const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/**
 * Returns whether the values of the last JUDGED_MS look like dust or a worn track: many small changes back and forth. A hand moves a control
 * somewhere. The limits are common practice, tried on recorded moves.
 * @param high the whole range of values
 */
export function judgeRestless(samples: readonly Sample[], high: number, now: number): Restless | null {
  const values = samples.map(({ value }) => value);
  const steps = values.slice(1).map((value, at) => value - values[at]!);
  const changes = steps.filter((step) => step !== 0);
  if (changes.length < FREQUENT) return null;
  // It still goes on: the last change is not long ago.
  if (now - samples.at(-1)!.at > JUDGED_MS / 4) return null;
  const least = Math.min(...values);
  const most = Math.max(...values);
  const spread = most - least;
  if (spread > SMALL * high) return null;
  const turns = changes.slice(1).filter((step, at) => step > 0 !== changes[at]! > 0).length;
  if (turns < TURNS * (changes.length - 1)) return null;
  const half = Math.floor(values.length / 2);
  if (Math.abs(mean(values.slice(0, half)) - mean(values.slice(half))) > DRIFT * spread) return null;
  return {
    mean: mean(values),
    least,
    most,
    changesPerSecond: changes.length / (JUDGED_MS / 1000),
    deadband: spread,
  };
}
