/** What a driver does later, and stops doing when its line closes. */

export interface Timers {
  later(ms: number, act: () => void): void;
  stop(): void;
}

export function createTimers(): Timers {
  const running = new Set<NodeJS.Timeout>();
  return {
    later(ms, act) {
      const timer = setTimeout(() => {
        running.delete(timer);
        act();
      }, ms);
      running.add(timer);
    },
    stop() {
      for (const timer of running) clearTimeout(timer);
      running.clear();
    },
  };
}

const WAITS_MS = [250, 500, 1000, 2000, 4000];

/** How long to wait before the next try, after so many that failed: longer each time, up to four seconds. */
export const waitBefore = (tries: number): number => WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]!;
