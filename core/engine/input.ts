/** Everything that happens to the engine. Each is given with its instant: the same inputs at the same instants make the same leave. */
import type { OrderAct, OrderState } from '../cues/runner.js';
import type { Send } from '../sends.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import type { Signal } from '../signal.js';

/** Lines are named by their index. */
export type EngineInput =
  /** A signal was heard on a line. */
  | { t: 'heard'; line: number; signal: Signal }
  /** Something that was planned is due. */
  | { t: 'wake' }
  /**
   * A show, or the same show changed. What a mapping or route held that is no longer there, or no longer the same, is released. Costs time
   * in proportion to the show. `lineIndex`: the index of each line that exists, by its id.
   */
  | { t: 'show'; show: Show; lineIndex: ReadonlyMap<string, number> }
  /** One mapping of the show is changed, in the same place. Costs what it is, not what the show has. `order`: that place. */
  | { t: 'mapping'; row: Mapping; order: number }
  /** The running order, or what its moments name, is changed, and the rest of the show is not. */
  | { t: 'moments'; show: Show }
  /** Something is asked of the running order. `desk`: the name of the desk that asks. */
  | { t: 'order'; act: OrderAct; desk: string }
  /** A mapping is pressed or released by hand, at the top of its range, whatever it hears. */
  | { t: 'tryMapping'; id: string; pressed: boolean }
  /** A send is sent or released by hand, with this value, without the delay of its line. */
  | { t: 'trySend'; send: Send; pressed: boolean; value: number }
  /** Releases all that is held, without the delays of lines. */
  | { t: 'panic'; desk: string }
  /** False: all that is held is released, and from then on what would leave is held back. */
  | { t: 'armed'; armed: boolean }
  /** A beat of the tempo is tapped by hand. */
  | { t: 'tap' }
  /** What was heard on this line can't be heard any more, as when it closes: what is held by it is released. */
  | { t: 'lineGone'; line: number }
  /** A line can be sent on anew: the lamps of its controller are told what they show. */
  | { t: 'lineBack'; line: number }
  /** A route that was cut since it closed a loop is opened. */
  | { t: 'openRoute'; id: string }
  /** The slots of a line had these levels before a restart, slot 1 first: fades begin there. */
  | { t: 'restoreLevels'; line: number; levels: Uint8Array }
  /** Goes on from where it was before a restart. */
  | { t: 'restore'; before: Before };

export type InputOf<T extends EngineInput['t']> = Extract<EngineInput, { t: T }>;

/** How the running order and the tempo were before a restart. */
export interface Before {
  /** The id of a moment, or `AT_THE_END`; null where that is not known. */
  standingBy: string | null;
  called: OrderState['called'];
  /** Moments whose fades ran then, and are to be at their ends now. */
  finished: readonly string[];
  /** Monotonic ms of beat 0, which may be long ago; null where that is not known. */
  beatSince: number | null;
}
