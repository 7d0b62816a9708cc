/** Twelve faders. One of them may have dust in it, and then sends values without being moved. No I/O. */

export const FADERS = 12;

export interface Desk {
  /** @param fader 0–11. @param level 0–255 */
  set(fader: number, level: number): void;
  /** Dust in a fader, or in none. */
  dust(fader: number | null): void;
  /** Returns the levels, which dust makes waver a little. @param chance a new random number 0–1 */
  levels(chance: number): number[];
  state(): { faders: number[]; dusty: number | null };
}

export function createDesk(): Desk {
  const faders = new Array<number>(FADERS).fill(0);
  let dusty: number | null = null;
  const isFader = (fader: number): boolean => Number.isInteger(fader) && fader >= 0 && fader < FADERS;
  return {
    set(fader, level) {
      if (isFader(fader) && Number.isFinite(level))
        faders[fader] = Math.max(0, Math.min(255, Math.round(level)));
    },
    dust(fader) {
      dusty = fader !== null && isFader(fader) ? fader : null;
    },
    levels(chance) {
      return faders.map((level, at) => {
        if (at !== dusty) return level;
        // Wavers around its position by one or two; at the ends only inwards.
        const middle = Math.max(3, Math.min(252, level));
        return middle + Math.floor(chance * 5) - 2;
      });
    },
    state: () => ({ faders, dusty }),
  };
}
