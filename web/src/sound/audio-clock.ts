/** Brings the time of an audio context to the time of the page. Messages come late, never early: the quickest one of the last while counts. */

export interface AudioClock {
  /** A message that was sent at `contextS` came at `now`, in ms of the page. */
  heard(contextS: number, now: number): void;
  /** The page's time in ms of a time of the context in s; null before anything was heard. */
  toPage(contextS: number): number | null;
  /** The other way round. */
  toContext(now: number): number | null;
}

/** The number of messages that are compared: some seconds. */
const KEPT = 60;

export function createAudioClock(): AudioClock {
  const offsets: number[] = [];
  const offset = (): number | null => (offsets.length === 0 ? null : Math.min(...offsets));
  return {
    heard(contextS, now) {
      offsets.push(now - contextS * 1000);
      if (offsets.length > KEPT) offsets.shift();
    },
    toPage(contextS) {
      const by = offset();
      return by === null ? null : contextS * 1000 + by;
    },
    toContext(now) {
      const by = offset();
      return by === null ? null : (now - by) / 1000;
    },
  };
}
