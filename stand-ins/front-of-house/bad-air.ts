/** A bad network on the way here: packets are lost, repeated, late, or overtaken, each by its percent. No I/O. */

export const WAYS = ['lose', 'repeat', 'delay', 'reorder'] as const;
export type Way = (typeof WAYS)[number];

export interface BadAir {
  /** Percent, 0–100, of each. */
  readonly percent: Readonly<Record<Way, number>>;
  /** How many packets each has met. */
  readonly met: Readonly<Record<Way, number>>;
  set(way: Way, percent: number): void;
  /** Passes something on: not at all, once or twice, now or later. */
  pass(deliver: () => void): void;
}

/** Milliseconds that a late packet takes at most. */
const LATEST_MS = 60;
/** A packet that nothing overtakes goes on after this time. */
const OVERTAKEN_MS = 40;
/** Packets that wait. More go on at once. */
const MOST_WAITING = 1000;

/** @param chance returns 0 to 1. @param later calls back after some milliseconds */
export function createBadAir(chance: () => number, later: (ms: number, act: () => void) => void): BadAir {
  const percent: Record<Way, number> = { lose: 0, repeat: 0, delay: 0, reorder: 0 };
  const met: Record<Way, number> = { lose: 0, repeat: 0, delay: 0, reorder: 0 };
  let waiting = 0;
  let overtaken: (() => void) | null = null;

  function meets(way: Way): boolean {
    const does = chance() * 100 < percent[way];
    if (does) met[way]++;
    return does;
  }

  function letGo(): void {
    const act = overtaken;
    overtaken = null;
    act?.();
  }

  function wait(ms: number, act: () => void): void {
    waiting++;
    later(ms, () => {
      waiting--;
      act();
    });
  }

  function carry(deliver: () => void): void {
    if (waiting < MOST_WAITING && meets('delay')) return wait(chance() * LATEST_MS, deliver);
    if (!overtaken && waiting < MOST_WAITING && meets('reorder')) {
      overtaken = deliver;
      // Another may stand there by then, and would only go sooner.
      return wait(OVERTAKEN_MS, letGo);
    }
    deliver();
    letGo();
  }

  return {
    percent,
    met,
    set: (way, value) => void (percent[way] = value),
    pass(deliver) {
      if (meets('lose')) return;
      if (meets('repeat')) carry(deliver);
      carry(deliver);
    },
  };
}
