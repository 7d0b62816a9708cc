/** The parts of a signal that a mapping works with. */

export interface Heard {
  /** The velocity, controller value, bend, level or number. */
  value: number;
  /** The number of the note, controller, program, parameter or slot; for OSC the first open part that is a number; otherwise 0. */
  number: number;
  /** Counted from 0; 0 if there is none. */
  channel: number;
  /** For OSC: the text of the open parts of the pattern. */
  parts: readonly string[];
}

export const NO_PARTS: readonly string[] = [];

/** Creates an input by hand, without a signal. */
export const byHand = (value: number, number: number): Heard => ({
  value,
  number,
  channel: 0,
  parts: NO_PARTS,
});
