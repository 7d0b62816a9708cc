/** The fog laser: shows a beam for each held note. No I/O. */
import type { Note } from '../live/midi.js';

/** It listens to one channel only. */
export const CHANNEL = 6;

export interface Beam {
  number: number;
  velocity: number;
}

export interface Laser {
  /** @returns whether it was for this device */
  take(note: Note): boolean;
  beams(): Beam[];
}

export function createLaser(): Laser {
  const held = new Map<number, Beam>();
  return {
    take({ pressed, channel, number, velocity }) {
      if (channel !== CHANNEL) return false;
      if (pressed) held.set(number, { number, velocity });
      else held.delete(number);
      return true;
    },
    beams: () => [...held.values()],
  };
}
