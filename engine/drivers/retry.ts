/** What a driver does later, and stops doing when its line closes: after `stop` nothing is begun any more. */

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

/** How long to wait before the next try, after so many that failed: longer each time, up to four seconds. */
export const waitBefore = (tries: number): number => WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]!;
