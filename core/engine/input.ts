/** Every event that the engine can be given. The same inputs at the same times always produce the same output. */
import type { OrderAct, OrderState } from '../cues/order.js';
import type { Send } from '../sends.js';
import type { MotionHandAct } from '../motion/acts.js';
import type { MotionsKept } from '../motion/kept.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import type { Signal } from '../signal.js';
import type { PositionAct } from '../time/position.js';
import type { Tempo } from '../time/tempo.js';
import type { PositionBefore } from '../time/kept-position.js';

/** `line` is always the index of a line. */
export type EngineInput =
  /** A signal was heard on a line. `at` is when it arrived, in monotonic ms, at most the time of the input; left out: at the time of the input. */
  | { t: 'heard'; line: number; signal: Signal; at?: number }
  /** Something that was planned is due now. */
  | { t: 'wake' }
  /**
   * Loads a show, or an edited version of the current one. Whatever a removed or changed mapping or route holds is released. The cost grows
   * with the size of the show. `lineIndex` maps the id of each line to its index.
   */
  | { t: 'show'; show: Show; lineIndex: ReadonlyMap<string, number> }
  /** Replaces one mapping in place. The cost depends on that mapping, not on the size of the show. `order` is its place in the sheet. */
  | { t: 'mapping'; row: Mapping; order: number }
  /** Reloads the moments, and the groups, looks and files that they name. The rest of the show has not changed. */
  | { t: 'moments'; show: Show }
  /** A command to the running order. `desk` is the name of the desk that sent it. */
  | { t: 'order'; act: OrderAct; desk: string }
  /** Presses or releases a mapping by hand, at the top of its range, whatever message it hears. */
  | { t: 'tryMapping'; id: string; pressed: boolean }
  /** Sends or releases one send by hand, with this value and without the delay of its line. */
  | { t: 'trySend'; send: Send; pressed: boolean; value: number }
  /** Panic: releases everything that is held, without the delays of lines. */
  | { t: 'panic'; desk: string }
  /** Arms the show or makes it safe. Safe: everything held is released, and further output is held back. */
  | { t: 'armed'; armed: boolean }
  /** A tap on the tempo button. */
  | { t: 'tap' }
  /** The source that the tempo follows: an id, `own`, or `auto`. */
  | { t: 'tempoSource'; source: string }
  /** A command to the show's position. */
  | { t: 'position'; act: PositionAct }
  /** Sets the tempo, in beats a minute. */
  | { t: 'tempo'; bpm: number }
  /** The input of a line is gone, for example because it closed. Whatever that input holds is released. */
  | { t: 'lineGone'; line: number }
  /** The output of a line is open again: the lamps of its controller are sent their state. */
  | { t: 'lineBack'; line: number }
  /** Something is done to a motion by hand. */
  | { t: 'motion'; id: string; act: MotionHandAct }
  /** Reopens a route that was cut because it closed a loop. */
  | { t: 'openRoute'; id: string }
  /** The levels that a line's slots had before a restart, slot 1 first. Fades start from them. */
  | { t: 'restoreLevels'; line: number; levels: Uint8Array }
  /** Restores the running order and the beat after a restart. */
  | { t: 'restore'; before: Before };

export type InputOf<T extends EngineInput['t']> = Extract<EngineInput, { t: T }>;

/** The state of the running order and of the beat before a restart. */
export interface Before {
  /** The id of a moment, or `AT_THE_END`; null if unknown. */
  standingBy: string | null;
  called: OrderState['called'];
  /** Moments whose fades were running, and whose end values are to be set now. */
  finished: readonly string[];
  /** Its beat 0 was possibly long ago; null if unknown. */
  tempo: Tempo | null;
  /** In the engine's time; null if the show begins anew, left out if it goes on. */
  position?: PositionBefore | null;
  /** In the engine's time; left out if nothing is known of motions. */
  motions?: MotionsKept;
}
