/** What is kept of motions for a restart. */
import type { Settings } from './compiled.js';

export interface MotionsKept {
  /** Those that run, but for notes that are held. `beganAt` is in monotonic ms; `keep` is what another run needs to go on (core/motion/run). */
  running: { id: string; beganAt: number; keep: number | null }[];
  /** Those that run by themselves, and were stopped by a person or by Panic. */
  stopped: string[];
  /** What has moved their settings. */
  moved: Record<string, Settings>;
}

/** The same by another clock. @param by added to each time */
export const movedOn = (kept: MotionsKept, by: number): MotionsKept => ({
  ...kept,
  running: kept.running.map((one) => ({ ...one, beganAt: one.beganAt + by })),
});
