/** Wakes the engine when it asked to be: once for all that is due together. */

export interface Waker {
  /** What is due may be due at another time now. */
  plan(): void;
  stop(): void;
}

/** @param wakeAt monotonic ms of what is due first; Infinity for nothing. @param wake does all that is due by now */
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
