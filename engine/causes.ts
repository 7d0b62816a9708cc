/** Which message in the traffic a step of the engine heard: so that what leaves later is tied to it too. */
export interface Causes {
  /** @param seq the number of the message in the traffic */
  keep(step: number, seq: number): void;
  /** @returns its number; 0 for no step, or one of too long ago */
  find(step: number): number;
}

/** So many steps are known: a delay of a minute at a thousand messages a second. */
const KEPT = 1 << 16;

export function createCauses(): Causes {
  const steps = new Float64Array(KEPT);
  const seqs = new Uint32Array(KEPT);
  return {
    keep(step, seq) {
      const at = step % KEPT;
      steps[at] = step;
      seqs[at] = seq;
    },
    find(step) {
      const at = step % KEPT;
      return step > 0 && steps[at] === step ? seqs[at]! : 0;
    },
  };
}
