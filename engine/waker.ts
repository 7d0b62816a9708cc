/** Wakes the engine at the time that it asks for. Everything that is due together is done in one wake. */

export interface Waker {
  /** Checks when the engine is due, and sets the timer. Called after each input. */
  plan(): void;
  stop(): void;
}

/** @param wakeAt returns when the engine is due, in monotonic ms; Infinity for never. @param wake does everything that is due */
export function createWaker(wakeAt: () => number, wake: () => void): Waker {
  let timer: NodeJS.Timeout | null = null;
  let plannedAt = Infinity;

  function clear(): void {
    if (timer) clearTimeout(timer);
    timer = null;
  }

  function due(): void {
    plannedAt = Infinity;
    wake();
  }

  return {
    plan() {
      const at = wakeAt();
      if (at === plannedAt) return;
      clear();
      plannedAt = at;
      if (at !== Infinity) timer = setTimeout(due, Math.max(0, Math.ceil(at - performance.now())));
    },
    stop: clear,
  };
}
