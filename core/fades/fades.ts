/**
 * Fades of DMX slots: from the level that a slot has to another in a time. What is sent to the slot meanwhile, by whomever, takes over
 * from where it is. Given the time; reads no clock.
 */
import type { SlotSignal } from '../signal.js';

export interface FadeTo {
  /** Index of the line. */
  line: number;
  slot: number;
  /** The slot and the next one are the coarse and the fine part of one level, 0–65,535. */
  fine: boolean;
  level: number;
  ms: number;
  /** From 0–1 to 0–1; straight without one. */
  curve?: (part: number) => number;
  /** Who sends it: the id of a mapping. */
  sender: string;
  muted: boolean;
}

export interface Fades {
  /** Notes a level that left, or would have; a fade of that slot that this one is not of ends. */
  sent(line: number, signal: SlotSignal): void;
  start(fade: FadeTo, now: number): void;
  /** The level that the slot was last sent; 0 for none. */
  levelOf(line: number, slot: number): number;
  /** Ends the fades of a sender where they are. */
  stop(ofSender: (sender: string) => boolean): void;
  running(): number;
  /** Monotonic ms; Infinity when nothing fades. */
  wakeAt(): number;
  wake(now: number): void;
}

/** How often a fade moves on: smoother than the 44 frames a second of DMX. */
export const FADE_STEP_MS = 20;
const SLOTS = 1024;

interface Running extends FadeTo {
  from: number;
  since: number;
  coarse: SlotSignal;
  fineSlot: SlotSignal | null;
}

export function createFades(
  put: (line: number, signal: SlotSignal, sender: string, muted: boolean) => void,
): Fades {
  const levels = new Map<number, number>();
  const fades = new Map<number, Running>();
  let next = Infinity;
  let own = false;
  const keyOf = (line: number, slot: number): number => line * SLOTS + slot;

  function send(fade: Running, level: number): void {
    const whole = Math.round(level);
    own = true;
    fade.coarse.level = fade.fineSlot ? whole >> 8 : whole;
    put(fade.line, fade.coarse, fade.sender, fade.muted);
    if (fade.fineSlot) {
      fade.fineSlot.level = whole & 0xff;
      put(fade.line, fade.fineSlot, fade.sender, fade.muted);
    }
    own = false;
  }

  function levelNow(line: number, slot: number, fine: boolean): number {
    const level = levels.get(keyOf(line, slot)) ?? 0;
    return fine ? (level << 8) | (levels.get(keyOf(line, slot + 1)) ?? 0) : level;
  }

  return {
    sent(line, { slot, level }) {
      const key = keyOf(line, slot);
      levels.set(key, level);
      if (own || fades.size === 0) return;
      fades.delete(key);
      if (fades.get(key - 1)?.fineSlot) fades.delete(key - 1);
    },
    start(wish, now) {
      const { line, slot } = wish;
      const fine = wish.fine && slot < 512;
      const key = keyOf(line, slot);
      const from = levelNow(line, slot, fine);
      fades.delete(key);
      fades.set(key, {
        ...wish,
        fine,
        from,
        since: now,
        coarse: { kind: 'slot', slot, level: 0 },
        fineSlot: fine ? { kind: 'slot', slot: slot + 1, level: 0 } : null,
      });
      next = Math.min(next, now + Math.min(FADE_STEP_MS, wish.ms));
    },
    levelOf: (line, slot) => levels.get(keyOf(line, slot)) ?? 0,
    stop(ofSender) {
      for (const [key, fade] of fades) if (ofSender(fade.sender)) fades.delete(key);
      if (fades.size === 0) next = Infinity;
    },
    running: () => fades.size,
    wakeAt: () => next,
    wake(now) {
      if (now < next) return;
      let end = Infinity;
      for (const [key, fade] of fades) {
        const part = fade.ms === 0 ? 1 : Math.min(1, (now - fade.since) / fade.ms);
        if (part === 1) fades.delete(key);
        else end = Math.min(end, fade.since + fade.ms);
        const bent = part === 1 || !fade.curve ? part : fade.curve(part);
        send(fade, fade.from + (fade.level - fade.from) * bent);
      }
      next = fades.size === 0 ? Infinity : Math.min(now + FADE_STEP_MS, end);
    },
  };
}
