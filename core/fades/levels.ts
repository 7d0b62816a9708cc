/** The last level sent to each slot of each line, and the fade that currently moves the slot, if any. */
import type { SlotSignal } from '../signal.js';

/** The fade of a slot. */
export interface Fading {
  /** True if each slot and the next one are the coarse and the fine byte of one level. */
  isFine: boolean;
}

/** The slots of one line. */
export interface Universe {
  /** Indexed by slot, with room for the fine byte of a level at slot 512. */
  levels: Uint8Array;
  fading: (Fading | null)[];
}

export interface Levels {
  /** Records a level that was sent. Unless it comes from a fade, it ends the fade of that slot. */
  sent(line: number, signal: SlotSignal): void;
  /** True while a fade is sending. */
  moving: boolean;
  /** The last level sent to a slot; 0 if nothing was sent. */
  levelOf(line: number, slot: number): number;
  /** A copy of the levels of all 512 slots, slot 1 first. */
  levelsOf(line: number): Uint8Array;
  isFading(line: number, slot: number): boolean;
  universeOf(line: number): Universe;
}

const SLOTS = 514;

export function createLevels(): Levels {
  const universes: (Universe | undefined)[] = [];
  const universeOf = (line: number): Universe =>
    (universes[line] ??= {
      levels: new Uint8Array(SLOTS),
      fading: new Array<Fading | null>(SLOTS).fill(null),
    });

  const known: Levels = {
    moving: false,
    sent(line, { slot, level }) {
      if (line < 0) return;
      const { levels, fading } = universeOf(line);
      levels[slot] = level;
      if (known.moving) return;
      fading[slot] = null;
      // The slot is the fine byte of the slot before it.
      if (slot > 1 && fading[slot - 1]?.isFine) fading[slot - 1] = null;
    },
    levelOf: (line, slot) => universes[line]?.levels[slot] ?? 0,
    levelsOf: (line) => universes[line]?.levels.slice(1, 513) ?? new Uint8Array(512),
    isFading: (line, slot) => universes[line]?.fading[slot] != null,
    universeOf,
  };
  return known;
}
