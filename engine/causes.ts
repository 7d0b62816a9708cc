/** Maps steps of the engine to records of the traffic, so that later output can be tied to its cause. */
export interface Causes {
  /** @param seq the number of the message in the traffic */
  keep(step: number, seq: number): void;
  /** @returns the number of the message; 0 for no step, or one that is too old */
  find(step: number): number;
}

/** The number of steps that are remembered: a minute at a thousand messages a second. */
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
