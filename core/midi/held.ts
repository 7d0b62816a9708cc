/** The notes that are down on a line, in one direction: pressed and not yet released. */
import type { Signal } from '../signal.js';

export interface HeldNote {
  /** 0–15 */
  channel: number;
  /** 0–127 */
  number: number;
  /** 1–127 */
  velocity: number;
  /** Monotonic ms of the press. */
  since: number;
}

export interface HeldNotes {
  /** Processes a signal. @returns whether the notes that are down have changed */
  take(signal: Signal, now: number): boolean;
  /** Removes all notes. @returns whether there were any */
  clear(): boolean;
  /** The longest held first. */
  list(): HeldNote[];
}

export function createHeldNotes(): HeldNotes {
  const held = new Map<number, HeldNote>();
  return {
    take(signal, now) {
      if (signal.kind === 'noteOn') {
        const { channel, number, value: velocity } = signal;
        held.set((channel << 7) | number, { channel, number, velocity, since: now });
        return true;
      }
      if (signal.kind === 'noteOff') return held.delete((signal.channel << 7) | signal.number);
      return false;
    },
    clear() {
      const any = held.size > 0;
      held.clear();
      return any;
    },
    list: () => [...held.values()].sort((a, b) => a.since - b.since),
  };
}
