/** The moments that the position passed without calling them, and why. */
import type { Due } from './calls.js';
import type { Passed, PassedWhy } from './position.js';

export interface PassedList {
  /** Returns a new list after each change. */
  list(): readonly Passed[];
  note(dues: readonly Due[], why: (due: Due) => PassedWhy | null): void;
  /** Everything from this position in ms on is still to come. */
  begin(ms: number): void;
  keep(isThere: (id: string) => boolean): void;
  clear(): void;
}

const MOST_PASSED = 50;

/** @param changed called after each change */
export function createPassed(changed: () => void): PassedList {
  let passed: readonly Passed[] = [];

  function keep(wanted: (one: Passed) => boolean): void {
    if (passed.every(wanted)) return;
    passed = passed.filter(wanted);
    changed();
  }

  return {
    list: () => passed,
    note(dues, why) {
      const over = dues.flatMap((due): Passed[] => {
        const reason = why(due);
        return reason ? [{ id: due.id, ms: due.ms, why: reason }] : [];
      });
      if (over.length === 0) return;
      passed = [...passed, ...over].slice(-MOST_PASSED);
      changed();
    },
    begin: (ms) => keep((one) => one.ms < ms),
    keep: (isThere) => keep(({ id }) => isThere(id)),
    clear: () => keep(() => false),
  };
}
