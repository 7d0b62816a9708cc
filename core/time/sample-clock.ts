/**
 * The clock of a sound card, from when its samples were seen: they come in blocks, some of them late and none of them early, so the block that came
 * with the least delay counts. A card runs a little faster or slower than its name says, so only the last seconds do. Given the time; reads no clock.
 */

export interface SampleClock {
  /** So many samples in all have passed by then. @param at ms */
  saw(samples: number, at: number): void;
  /** When a sample passes, in ms; null before any was seen. */
  timeOf(sample: number): number | null;
  /** The sample that passes at an instant, with its fraction. */
  sampleAt(at: number): number | null;
}

/** The least delay is looked for in this time and the one before it. */
const WINDOW_MS = 2500;
/** Samples that are later than this, so often in a row, were lost on the way: the count goes on behind them. */
const LOST_MS = 100;
const LOST_TIMES = 20;

/** @param sampleRate samples a second, by name */
export function createSampleClock(sampleRate: number): SampleClock {
  const perMs = sampleRate / 1000;
  /** When sample 0 would have passed: the least of this window, and of the one before it. */
  let least = Infinity;
  let before = Infinity;
  let windowEnds = -Infinity;
  let late = 0;
  const zero = (): number => Math.min(least, before);
  return {
    saw(samples, at) {
      const began = at - samples / perMs;
      late = began > zero() + LOST_MS ? late + 1 : 0;
      if (late >= LOST_TIMES) {
        late = 0;
        before = least = Infinity;
      }
      if (at >= windowEnds) {
        before = least;
        least = Infinity;
        windowEnds = at + WINDOW_MS;
      }
      least = Math.min(least, began);
    },
    timeOf: (sample) => (zero() === Infinity ? null : zero() + sample / perMs),
    sampleAt: (at) => (zero() === Infinity ? null : (at - zero()) * perMs),
  };
}
