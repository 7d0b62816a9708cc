/** What is known of the motions that run, and whether the engine is asked for what they make. */
import type { ToEngine } from '@tawny-signal/core/link/messages';
import { NO_MOTIONS, type MotionsSeen } from '@tawny-signal/core/motion/seen';

export interface MotionsDesk {
  seen(): MotionsSeen;
  take(seen: MotionsSeen): void;
  /** Whether some page shows what motions make. */
  watch(on: boolean): void;
  /** The engine is connected. */
  joined(seen: MotionsSeen): void;
}

export function createMotionsDesk(tell: (message: ToEngine) => void): MotionsDesk {
  let now = NO_MOTIONS;
  let watching = false;
  return {
    seen: () => now,
    take: (seen) => void (now = seen),
    watch(on) {
      if (on === watching) return;
      watching = on;
      tell({ t: 'watchMotions', on });
    },
    joined(seen) {
      now = seen;
      if (watching) tell({ t: 'watchMotions', on: true });
    },
  };
}
