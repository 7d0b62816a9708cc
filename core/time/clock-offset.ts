/**
 * How far another clock is ahead of ours, measured by asking it the time. The answer that took the shortest way is the best: the error is at most half of its
 * round trip (as in NTP, RFC 5905, section 8).
 */

export interface ClockOffset {
  /** Takes an answer. Times in ms: ours when it was asked and answered, the other clock's in between. */
  answered(sentAt: number, otherNow: number, receivedAt: number): void;
  /** Converts a time of our clock to the other one's; null before any answer. */
  toOther(at: number): number | null;
  /** The round trip of the best answer, in ms; Infinity before any. */
  roundTrip(): number;
}

/** The best of this many answers counts, so that an old one does not hide a drift. */
const KEPT = 8;

export function createClockOffset(): ClockOffset {
  let answers: { offset: number; roundTrip: number }[] = [];
  const best = (): (typeof answers)[number] | null =>
    answers.reduce<(typeof answers)[number] | null>(
      (one, other) => (one && one.roundTrip <= other.roundTrip ? one : other),
      null,
    );
  return {
    answered(sentAt, otherNow, receivedAt) {
      const roundTrip = receivedAt - sentAt;
      if (!(roundTrip >= 0)) return;
      answers = [...answers.slice(1 - KEPT), { offset: otherNow - (sentAt + roundTrip / 2), roundTrip }];
    },
    toOther(at) {
      const one = best();
      return one && at + one.offset;
    },
    roundTrip: () => best()?.roundTrip ?? Infinity,
  };
}
