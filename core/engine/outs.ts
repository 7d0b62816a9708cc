/** The output of one input. */
import type { Signal } from '../signal.js';

/**
 * Parallel lists with one entry for each output, in the order in which they must be sent. Only the first `count` entries are valid, and only
 * until the next input: the lists are reused.
 */
export interface Outs {
  count: number;
  /** Index of the line to send on; -1 if the sender's line does not exist. */
  line: number[];
  signal: Signal[];
  /** Id of the mapping, route or moment that sends it; empty for a send that is tried by hand. */
  sender: string[];
  /** True if the output is only shown and not sent, because the show is safe or the line is muted. */
  heldBack: boolean[];
  /** True if the output is lost, because the delay queue of its line is full. */
  dropped: boolean[];
  /** True for feedback to a lamp or motor fader, which never sounds and needs no release. */
  lamp: boolean[];
  /** The step that the output is credited to: this one, an earlier one that planned it, or 0 if no signal caused it. */
  because: number[];
  /** The number of this step, counted from 1, if the input was a signal; otherwise 0. */
  step: number;
  /** True if this input was a Panic, or caused one. */
  panic: boolean;
}

export const createOuts = (): Outs => ({
  count: 0,
  line: [],
  signal: [],
  sender: [],
  heldBack: [],
  dropped: [],
  lamp: [],
  because: [],
  step: 0,
  panic: false,
});
