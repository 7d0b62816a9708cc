/** What of a signal a mapping works with. */

export interface Heard {
  /** The force, controller value, bend, level or number that came. */
  value: number;
  /** The note's, controller's, program's, parameter's or slot's own number; of OSC the first open part that is a number; else 0. */
  number: number;
  /** Counted from 0; 0 where there is none. */
  channel: number;
  /** Of OSC: what stood in the open parts of the pattern. */
  parts: readonly string[];
}

export const NO_PARTS: readonly string[] = [];

/** Heard by hand, with no signal. */
export const byHand = (value: number, number: number): Heard => ({
  value,
  number,
  channel: 0,
  parts: NO_PARTS,
});
