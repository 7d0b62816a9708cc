/**
 * When a universe is sent: at once when a level changed, but at most 44 times a second (DMX512-A: a full frame takes
 * 22.7 ms); and about once a second when nothing changes, so that whoever comes late sees it and nobody takes us for lost
 * (ANSI E1.31, 6.6.2: 800 to 1000 ms; from memory).
 */
import { SLOTS } from './universe.js';

export const MOST_FRAMES_PER_SECOND = 44;
export const LEAST_MS = 1000 / MOST_FRAMES_PER_SECOND;
export const REPEAT_MS = 900;

export interface Frames {
  /** @param slot 1–512. @param level 0–255 */
  set(slot: number, level: number): void;
  /** Monotonic ms when the next frame is due; Infinity before any level was set. */
  dueAt(): number;
  /** The frame that is sent at `now`: its levels, to be read only, and its sequence, 1–255 and round again. */
  take(now: number): { levels: Uint8Array; sequence: number };
  /** The last frame could not be sent and is due again. */
  lost(): void;
  /** Returns whether any frame was taken yet. */
  readonly begun: boolean;
}

/** How far the second sequence is from the first, for receivers that heard this source before. */
const JUMP = 128;

/**
 * @param heardBefore receivers may know this source from a process before us, and its last sequence, which we do not: they pass over what seems up to 20
 * frames old (E1.31, 6.7.2). Two frames that are half the round apart can't both seem so, so the first is sent twice.
 */
export function createFrames(heardBefore = false): Frames {
  const levels = new Uint8Array(SLOTS);
  let sentAt = -Infinity;
  let changed = false;
  let sequence = 0;
  let taken = 0;
  return {
    set(slot, level) {
      changed ||= levels[slot - 1] !== level || sentAt === -Infinity;
      levels[slot - 1] = level;
    },
    dueAt() {
      if (changed) return sentAt + LEAST_MS;
      return sentAt === -Infinity ? Infinity : sentAt + REPEAT_MS;
    },
    take(now) {
      sentAt = now;
      taken++;
      changed = heardBefore && taken === 1;
      sequence = heardBefore && taken === 2 ? sequence + JUMP : (sequence % 255) + 1;
      return { levels, sequence };
    },
    lost() {
      changed = true;
    },
    get begun() {
      return sentAt !== -Infinity;
    },
  };
}
