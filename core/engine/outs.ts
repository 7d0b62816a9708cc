/** What leaves because of one input. */
import type { Signal } from '../signal.js';

/**
 * The first `count` of each list, in the order in which it must leave. The lists are used again for the next input: act on them
 * before it.
 */
export interface Outs {
  count: number;
  /** Index of the line to send on; -1 where the sender's line is not there. */
  line: number[];
  signal: Signal[];
  /** Id of the mapping, route or moment that sends it; empty for what is tried by hand. */
  sender: string[];
  /** True for what is only shown: the show is safe, or the line muted. */
  heldBack: boolean[];
  /** True for what could not be kept until the delay of its line was over, since so much waits there. It is not sent. */
  dropped: boolean[];
  /** True for what a lamp or motor fader is told: it is no note that sounds. */
  lamp: boolean[];
  /** The step that it belongs to: this one, an earlier one that it was planned in, or 0 where nothing was heard for it. */
  because: number[];
  /** The number of the step that heard a signal, from 1 on; 0 for everything else. */
  step: number;
  /** All that was held was let go, for Panic. */
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
