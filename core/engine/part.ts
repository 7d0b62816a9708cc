/** What the parts of the engine have in common: how the engine calls them, and what they can ask of it. */
import type { Because } from '../because.js';
import type { AskedBy } from '../cues/runner.js';
import type { Levels } from '../fades/levels.js';
import type { LinePlaces } from '../mapping/roster.js';
import type { ShowAct } from '../sends/compiled.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import type { Signal } from '../signal.js';
import type { Tempo } from '../time/tempo.js';
import type { EngineInput } from './input.js';

/** A show, as parts are given it. */
export interface Loaded {
  show: Show;
  /** False where only the running order has changed, and what its moments name. */
  whole: boolean;
  lines: LinePlaces;
  /** What other parts want to be heard: rows like those of the sheet, after all of them. */
  listeners: readonly Mapping[];
}

/** A part of the engine. It does only what it has a method for; parts are called in the order of the engine's list. Times are monotonic ms. */
export interface Part {
  load?(loaded: Loaded, now: number): void;
  /** What of a show the part wants to be heard as mappings are. Their ids are its own. */
  listeners?(show: Show): Mapping[];
  /** A signal was heard on a line. */
  hear?(line: number, signal: Signal, now: number): void;
  /** Any other input, after `load`, `letGo`, `forget` and `wake` were called for those that concern all parts. */
  take?(input: EngineInput, now: number): void;
  /** Something is to be done to the show itself. */
  act?(act: ShowAct, by: AskedBy, now: number): void;
  /** Something leaves, sent by whomever. */
  saw?(line: number, signal: Signal, sender: string, heldBack: boolean): void;
  /** When `wake` is due; Infinity when nothing is. */
  wakeAt?(): number;
  /** Does what is due by now. */
  wake?(now: number): void;
  /** Ends all that it does, and releases what it holds: for Panic, by whom it was asked, or null where the show is made safe. */
  letGo?(by: AskedBy | null, now: number): void;
  /** Forgets what is planned: it was planned while the show was safe. */
  forget?(now: number): void;
  /** Called last at each input. */
  finish?(now: number): void;
}

/** What a part can ask of the engine. */
export interface Stage {
  /** Sends something. @param because the step that it belongs to, where it is another one than that of the stage */
  put(line: number, signal: Signal, sender: string, muted: boolean, because?: number): void;
  /** Tells something to a lamp or motor fader: it is no note that sounds. */
  tell(line: number, signal: Signal, sender: string, muted: boolean): void;
  /** Has something done to the show itself, once all that hear the signal have had it. */
  act(act: ShowAct, by: AskedBy): void;
  /** False: what would leave is held back. */
  armed(): boolean;
  /** Where a line is. */
  lineOf(id: string | null): { line: number; muted: boolean };
  isMuted(line: number): boolean;
  tempo(): Tempo;
  /** What the slots of all lines were sent last. */
  levels: Levels;
  because: Because;
}
