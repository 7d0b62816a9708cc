/** What the slots of all lines were sent last, by whomever; and which fade, if any, a slot is on its way with. */
import type { SlotSignal } from '../signal.js';

/** A fade, as far as slots know it. */
export interface Fading {
  /** Each slot and the next one are the coarse and the fine part of one level. */
  isFine: boolean;
}

/** What is known of a line. */
export interface Universe {
  /** By slot; as long as a fine level that begins at slot 512 would need. */
  levels: Uint8Array;
  fading: (Fading | null)[];
}

export interface Levels {
  /** Notes a level that left, or would have. Unless a fade is just moving, a fade of that slot ends: somebody took over. */
  sent(line: number, signal: SlotSignal): void;
  /** While this is true, what is sent comes from a fade. */
  moving: boolean;
  /** The level that the slot was last sent; 0 for none. */
  levelOf(line: number, slot: number): number;
  /** The levels of all 512 slots, slot 1 first: a copy. */
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
      // The fine part of a level that is two slots wide.
      if (slot > 1 && fading[slot - 1]?.isFine) fading[slot - 1] = null;
    },
    levelOf: (line, slot) => universes[line]?.levels[slot] ?? 0,
    levelsOf: (line) => universes[line]?.levels.slice(1, 513) ?? new Uint8Array(512),
    isFading: (line, slot) => universes[line]?.fading[slot] != null,
    universeOf,
  };
  return known;
}
