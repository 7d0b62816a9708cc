/** Counts what each line was sent for each moment, for the log of the show. */
import type { MomentTally } from '@tawny-signal/core/link/messages';

export type TallyWhat = 'sent' | 'heldBack' | 'failed';

export interface Tallies {
  /** Sets the moments whose output is counted. */
  setMoments(ids: Iterable<string>): void;
  count(sender: string, lineId: string | null, what: TallyWhat): void;
  /** Returns the counts since the last call. */
  drain(): MomentTally[];
}

export function createTallies(): Tallies {
  let moments: ReadonlySet<string> = new Set();
  let tallies = new Map<string, MomentTally>();
  // A fade sends hundreds of levels of one moment on one line, so the last tally is kept at hand.
  let last: MomentTally | null = null;

  function tallyOf(momentId: string, lineId: string | null): MomentTally {
    if (last && last.momentId === momentId && last.lineId === lineId) return last;
    const key = `${momentId} ${lineId}`;
    let tally = tallies.get(key);
    if (!tally) {
      tally = { momentId, lineId, sent: 0, heldBack: 0, failed: 0 };
      tallies.set(key, tally);
    }
    return (last = tally);
  }

  return {
    setMoments(ids) {
      moments = new Set(ids);
    },
    count(sender, lineId, what) {
      if (moments.has(sender)) tallyOf(sender, lineId)[what]++;
    },
    drain() {
      const taken = [...tallies.values()];
      if (taken.length > 0) tallies = new Map();
      last = null;
      return taken;
    },
  };
}
