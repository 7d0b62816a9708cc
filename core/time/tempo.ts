/** The tempo: beats counted from a start, never by adding, so that they cannot drift. */

export interface Tempo {
  /** Beats a minute. */
  bpm: number;
  /** Monotonic ms of beat 0. */
  since: number;
}

export const SLOWEST = 20;
export const FASTEST = 400;
/** A tap that comes later than this starts a new tempo. */
const FORGOTTEN_MS = 60_000 / SLOWEST;
/** The number of taps that the tempo is computed from. */
const MOST_TAPS = 8;

/** Beats since beat 0, with their fraction. */
export const beatAt = ({ bpm, since }: Tempo, now: number): number => ((now - since) * bpm) / 60_000;
/** Monotonic ms of a beat. */
export const timeOf = ({ bpm, since }: Tempo, beat: number): number => since + (beat * 60_000) / bpm;

export interface Tapper {
  /** Processes a tap. @returns the new tempo, rounded to a tenth of a beat a minute; null after the first tap */
  tap(at: number): Tempo | null;
}

export function createTapper(): Tapper {
  let taps: number[] = [];
  return {
    tap(at) {
      // Taps from several lines may arrive out of order.
      const now = Math.max(at, taps.at(-1) ?? -Infinity);
      if (now - (taps.at(-1) ?? -Infinity) > FORGOTTEN_MS) taps = [];
      taps.push(now);
      if (taps.length > MOST_TAPS) taps.shift();
      if (taps.length < 2) return null;
      const between = (now - taps[0]!) / (taps.length - 1);
      const bpm = Math.max(SLOWEST, Math.min(FASTEST, Math.round(600_000 / between) / 10));
      return { bpm, since: now };
    },
  };
}
