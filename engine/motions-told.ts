/** Tells the server which motions run when that changes, and what they make while somebody looks. */
import type { Engine } from '@tawny-signal/core/engine';
import type { MotionsSeen } from '@tawny-signal/core/motion/seen';
import type { Outside } from './outside.js';
import { ORIGIN } from './origin.js';

export interface MotionsTold {
  /** Looks whether motions began or ended with the last input, or something was done to them. @returns whether */
  follow(): boolean;
  /** Whether somebody looks at what motions make. */
  watch(on: boolean): void;
  seen(): MotionsSeen;
  stop(): void;
}

/** The shortest time between two reports, in ms. */
const EVERY_MS = 40;

export function createMotionsTold(engine: Engine, outside: Outside): MotionsTold {
  let toldAt = -Infinity;
  let seenCount = 0;
  let later: NodeJS.Timeout | null = null;
  let watching: NodeJS.Timeout | null = null;
  const seen = (): MotionsSeen => {
    const now = performance.now();
    return engine.motions.seen(ORIGIN + now, now);
  };

  function tell(): void {
    later = null;
    toldAt = performance.now();
    outside.tell({ t: 'motions', motions: seen() });
  }

  function watch(on: boolean): void {
    if (on === (watching !== null)) return;
    if (watching) clearInterval(watching);
    watching = on ? setInterval(tell, EVERY_MS) : null;
  }

  return {
    follow() {
      const count = engine.motions.count();
      if (count === seenCount) return false;
      seenCount = count;
      later ??= setTimeout(tell, Math.max(0, toldAt + EVERY_MS - performance.now()));
      return true;
    },
    watch,
    seen,
    stop() {
      watch(false);
      if (later) clearTimeout(later);
    },
  };
}
