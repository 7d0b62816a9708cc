/** The tempo: beats counted from a start, never by adding, so that they cannot drift. */

export interface Tempo {
  /** Beats a minute. */
  bpm: number;
  /** Monotonic ms of beat 0. */
  since: number;
  /** A beat with which a bar begins, and the beats to the bar; bars of four from beat 0 on if it is left out. */
  bar?: Bar;
}

export interface Bar {
  at: number;
  /** 1–32 */
  beats: number;
}

export const BEATS_TO_BAR = 4;
const FIRST_BAR: Bar = { at: 0, beats: BEATS_TO_BAR };
export const barOf = ({ bar = FIRST_BAR }: Tempo): Bar => bar;

export const SLOWEST = 20;
export const FASTEST = 400;
/** A tap that comes later than this starts a new tempo. */
const FORGOTTEN_MS = 60_000 / SLOWEST;
/** The number of taps that the tempo is computed from. */
const MOST_TAPS = 8;

/** Beats since beat 0, with their fraction. */
export const beatAt = ({ bpm, since }: Tempo, now: number): number => ((now - since) * bpm) / 60_000;
/** Beats since the bar that the count of the song begins with: the first tap, or the start of a clock. */
export const songBeatAt = (tempo: Tempo, now: number): number => beatAt(tempo, now) - barOf(tempo).at;
/** Monotonic ms of a beat. */
export const timeOf = ({ bpm, since }: Tempo, beat: number): number => since + (beat * 60_000) / bpm;

/**
 * The same tempo with its beats counted on from those of another, so that what waits for a beat does not wait for a count that begins anew. Only a
 * part of a beat may be left between them, forward or back.
 */
export function countedOn(tempo: Tempo, from: Tempo, now: number): Tempo {
  const whole = Math.round(beatAt(tempo, now) - beatAt(from, now));
  if (whole === 0) return tempo;
  const { at, beats } = barOf(tempo);
  return {
    bpm: tempo.bpm,
    since: tempo.since + (whole * 60_000) / tempo.bpm,
    bar: { at: at - whole, beats },
  };
}

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
