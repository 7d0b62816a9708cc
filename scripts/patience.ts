/** How long an engine may be silent before it counts as hung. Counted in rounds, so that a machine that has slept gives it another one. */

/** An engine that was loaded, and is silent for more rounds than this, hangs. */
export const ROUNDS = 2;
/** An engine has so many rounds to be loaded, and twice as many after each one that was not: a busy machine takes long. */
export const FIRST_ROUNDS = 15;
export const MOST_ROUNDS = 300;

export interface Watched {
  /** The engine gave a sign of life: it is loaded. */
  heard(): void;
  /** A round has passed. @returns true if the engine hangs; it is to be killed then */
  round(): boolean;
}

export interface Patience {
  /** Begins to watch the next engine. */
  watch(): Watched;
}

export function createPatience(): Patience {
  /** Engines in a row that were killed before they were loaded. */
  let neverLoaded = 0;
  return {
    watch() {
      let silent = 0;
      let loaded = false;
      return {
        heard() {
          loaded = true;
          silent = neverLoaded = 0;
        },
        round() {
          const most = loaded ? ROUNDS : Math.min(MOST_ROUNDS, FIRST_ROUNDS * 2 ** neverLoaded);
          if (++silent <= most) return false;
          if (!loaded) neverLoaded++;
          return true;
        },
      };
    },
  };
}
