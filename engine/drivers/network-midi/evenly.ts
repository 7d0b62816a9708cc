/** Plays what was heard a set time after it was played elsewhere, so that the jitter of a network is not heard. What comes later than that is played at once. */

export interface Evenly {
  /** @param bytes that do not change later. @param ageMs how long ago it was played; 0 if that is not known. @param note for the traffic */
  take(bytes: Uint8Array, ageMs: number, note?: string): void;
  /** How many came too late. */
  late(): number;
  /** Plays nothing more. */
  stop(): void;
}

/** Messages that may wait. If there are more, all are played at once. */
const MOST_WAITING = 10_000;

/** @param afterMs null to play everything when it comes. @param play takes the age of what it plays, in ms */
export function createEvenly(
  afterMs: number | null,
  play: (bytes: Uint8Array, ageMs: number, note?: string) => void,
  clock: () => number = () => performance.now(),
): Evenly {
  let waiting: { at: number; playedAt: number; bytes: Uint8Array; note: string | undefined }[] = [];
  let timer: NodeJS.Timeout | null = null;
  let late = 0;

  function due(): void {
    timer = null;
    const now = clock();
    while (waiting[0] && waiting[0].at <= now) {
      const { bytes, playedAt, note } = waiting.shift()!;
      play(bytes, now - playedAt, note);
    }
    schedule(now);
  }

  function schedule(now: number): void {
    if (waiting[0] && !timer) timer = setTimeout(due, Math.max(0, waiting[0].at - now));
  }

  return {
    take(bytes, ageMs, note) {
      if (afterMs === null) return play(bytes, ageMs, note);
      const now = clock();
      if (ageMs > afterMs) late++;
      // The order stays: what is made good comes before what it was lost before.
      const at = Math.max(now, now - ageMs + afterMs, waiting.at(-1)?.at ?? 0);
      if (at <= now && waiting.length === 0) return play(bytes, ageMs, note);
      waiting.push({ at, playedAt: now - ageMs, bytes, note });
      if (waiting.length > MOST_WAITING) for (const one of waiting) one.at = now;
      if (waiting.length > MOST_WAITING && timer) {
        clearTimeout(timer);
        timer = null;
      }
      schedule(now);
    },
    late: () => late,
    stop() {
      if (timer) clearTimeout(timer);
      waiting = [];
    },
  };
}
