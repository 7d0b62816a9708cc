/**
 * The clock of the machine against the time since it started. What is kept for a restart has times by the clock; where somebody has set that since, as by
 * an hour, they are moved along, so that a position neither leaps nor stands.
 */
import { readFileSync } from 'node:fs';

export interface MachineClock {
  /** Identifies this run of the machine. */
  boot: string;
  /** The clock as this process counts it, minus the time since the machine started, in ms: the same for as long as the process lives. */
  offset: number;
}

/** A difference of less than this, in ms, is drift: the clock was not set. */
const LEAST_MS = 1000;

/** @returns null on a system that does not say which run of it this is */
function read(): MachineClock | null {
  try {
    const boot = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
    const sinceBoot = Number(process.hrtime.bigint()) / 1e6;
    return { boot, offset: performance.timeOrigin + performance.now() - sinceBoot };
  } catch {
    return null;
  }
}

export const MACHINE_CLOCK = read();

/** By how much the clock was set since something was kept, in ms: forward is positive. 0 where that is not known. */
export function setSince(kept: MachineClock | null | undefined, now = MACHINE_CLOCK): number {
  if (!kept || !now || kept.boot !== now.boot) return 0;
  const by = now.offset - kept.offset;
  return Math.abs(by) < LEAST_MS ? 0 : by;
}
