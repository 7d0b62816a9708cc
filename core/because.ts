/**
 * Credits each output to the input that caused it, even when it is sent later. A part that plans something stores the current step with it, and
 * sets that step again while it does what it planned.
 */
export interface Because {
  /** The step that current output is credited to: the one being processed, or the one that planned this. 0: no signal caused it. */
  step: number;
}
