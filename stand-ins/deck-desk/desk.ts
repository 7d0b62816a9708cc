/** Twelve faders, one of which may have dust in it: then it sends values that nobody made. No I/O. */

export const FADERS = 12;

export interface Desk {
  /** @param fader 0–11. @param level 0–255 */
  set(fader: number, level: number): void;
  /** Dust in a fader, or in none. */
  dust(fader: number | null): void;
  /** The levels now; dust makes them waver a little. @param chance 0–1, new each time */
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
        // Around where it stands, by one or two; at the ends it wavers inwards.
        const middle = Math.max(3, Math.min(252, level));
        return middle + Math.floor(chance * 5) - 2;
      });
    },
    state: () => ({ faders, dusty }),
  };
}
