/** The interface between the engine and its parts: `Part` is what the engine calls, `Stage` is what a part may call. */
import type { Because } from '../because.js';
import type { AskedBy } from '../cues/order.js';
import type { Levels } from '../fades/levels.js';
import type { KeyHolders } from '../keys/holders.js';
import type { LinePlaces } from '../mapping/line-places.js';
import type { ShowAct } from '../sends/compiled.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import type { Signal } from '../signal.js';
import type { Motion as Course } from '../time/position.js';
import type { Tempo } from '../time/tempo.js';
import type { EngineInput } from './input.js';

/** A show that was loaded. */
export interface Loaded {
  show: Show;
  /** False if only the moments have changed, and the groups, looks and files that they name. */
  whole: boolean;
  lines: LinePlaces;
  /** Rows that parts add to those of the sheet with `Part.listeners`. They come after all of the sheet's own. */
  listeners: readonly Mapping[];
}

/** One part of the engine, such as mappings or routes. Every hook is optional. The engine calls parts in the order of its list. Times are monotonic ms. */
export interface Part {
  /** A whole show will be loaded: gets ready for it, a little with each step. Changes nothing that can be seen. */
  prepare?(loaded: Loaded): Generator<void>;
  /** The show was loaded or changed. */
  load?(loaded: Loaded, now: number): void;
  /** Returns rows that are to be heard like mappings, such as the controls that call a moment. Their ids must differ from those of mappings. */
  listeners?(show: Show): Mapping[];
  /** A signal was heard on a line. */
  hear?(line: number, signal: Signal, now: number): void;
  /** Whether the show needs `hear` for the signals of a line. A signal cannot change this. Without this hook, `hear` is always called. */
  hears?(line: number): boolean;
  /** Any input but a signal. Called after `load`, `letGo`, `forget` or `wake`, if the input caused one of those. */
  take?(input: EngineInput, now: number): void;
  /** A send wants something done to the show itself. */
  act?(act: ShowAct, by: AskedBy, now: number): void;
  /** Some part has sent something. Called only while `watches` returns true. */
  saw?(line: number, signal: Signal, sender: string, heldBack: boolean): void;
  /** Whether the show needs `saw`. A signal cannot change this. Without this hook, `saw` is always called. */
  watches?(): boolean;
  /** When `wake` must be called next; Infinity if nothing is planned. */
  wakeAt?(): number;
  /** Does everything that is due by now. */
  wake?(now: number): void;
  /** Ends everything and releases what is held. `by` says who asked for Panic; null if the show is made safe. */
  letGo?(by: AskedBy | null, now: number): void;
  /** The show is armed: discards everything that was planned while it was safe. */
  forget?(now: number): void;
  /** Called at the end of each input, while `finishes` returns true. */
  finish?(now: number): void;
  /** Whether the show needs `finish`. A signal cannot change this. Without this hook, `finish` is always called. */
  finishes?(): boolean;
}

/** What the engine offers to its parts. */
export interface Stage {
  /** Sends a signal. @param because the step to credit it to; the current one by default */
  put(line: number, signal: Signal, sender: string, muted: boolean, because?: number): void;
  /** Sends feedback to a lamp or motor fader, which never sounds and needs no release. */
  tell(line: number, signal: Signal, sender: string, muted: boolean): void;
  /** Asks for something to be done to the show itself. It is done after all parts have processed the current input. */
  act(act: ShowAct, by: AskedBy): void;
  /** Returns false while the show is safe, and output is held back. */
  armed(): boolean;
  /** Finds a line by its id. `line` is -1 if it does not exist. */
  lineOf(id: string | null): { line: number; muted: boolean };
  isMuted(line: number): boolean;
  tempo(): Tempo;
  /** Where the show is. Returns a new object after each change. */
  position(): Course;
  /** When the current input arrived, in monotonic ms: the time of the input, or earlier if it has waited. */
  arrivedAt(): number;
  /** Who holds the keys that are down. */
  keys: KeyHolders;
  /** The last level sent to each slot of each line. */
  levels: Levels;
  because: Because;
}
