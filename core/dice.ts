/** Numbers 0–1, always the same for the same seed (mulberry32, public domain). */
export function dice(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** The number 0–1 at a place of a seeded row, so that none before it has to be made. @param at a whole number */
export function rollAt(seed: number, at: number): number {
  let mixed = Math.imul((seed ^ Math.imul(at | 0, 0x9e37_79b1)) | 0, 0x85eb_ca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0xc2b2_ae35);
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0x27d4_eb2f);
  return ((mixed ^ (mixed >>> 16)) >>> 0) / 2 ** 32;
}
