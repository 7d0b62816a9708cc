/** The timers of a driver. After `stop` none of them fires any more. */

export interface Timers {
  later(ms: number, act: () => void): void;
  stop(): void;
}

export function createTimers(): Timers {
  const running = new Set<NodeJS.Timeout>();
  let stopped = false;
  return {
    later(ms, act) {
      if (stopped) return;
      const timer = setTimeout(() => {
        running.delete(timer);
        act();
      }, ms);
      running.add(timer);
    },
    stop() {
      stopped = true;
      for (const timer of running) clearTimeout(timer);
      running.clear();
    },
  };
}

const WAITS_MS = [250, 500, 1000, 2000, 4000];

/** Returns the time before the next try in ms: longer after each failure, up to four seconds. */
export const waitBefore = (tries: number): number => WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]!;
