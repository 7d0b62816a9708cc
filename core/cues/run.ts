/** A running moment, and what running moments need. */
import type { Because } from '../because.js';
import type { Levels } from '../fades/levels.js';
import type { ShowAct, TapsDown, TypedPart } from '../sends/compiled.js';
import type { Moment, MomentSend } from '../show/moment.js';
import type { KeyHolders } from '../keys/holders.js';
import type { Signal } from '../signal.js';
import type { Tempo } from '../time/tempo.js';
import type { Plan, Planned } from './plan.js';
import type { RunEnd } from './run-end.js';

export interface RunnerStage {
  /** @param because the step to credit it to; the current one by default */
  put(line: number, signal: Signal, sender: string, muted: boolean, because?: number): void;
  /** The last level sent to each slot of each line. */
  levels: Levels;
  because: Because;
  /** The tempo, in the time of the running order. */
  tempo(): Tempo;
  lineOf(id: string | null): { line: number; muted: boolean };
  isMuted(line: number): boolean;
  /** Does something to the show itself. @param by id of the moment */
  act(act: ShowAct, by: string): void;
  armed(): boolean;
  keys: KeyHolders;
}

/** A running moment. */
export interface Run {
  plan: Plan;
  since: number;
  end: RunEnd;
  /** The step that started it. */
  because: number;
  ended: boolean;
}

const OWN_MARKS = ['a try', 'catching up', 'fading out'] as const;
/** Marks of runs that belong to no row of the running order. */
export type OwnMark = (typeof OWN_MARKS)[number];
export const isOwn = ({ plan }: Run): boolean => (OWN_MARKS as readonly string[]).includes(plan.moment.id);

/** Creates the moment of such a run. */
export const momentOf = (mark: OwnMark): Moment => ({
  id: mark,
  cue: '0',
  name: '',
  notes: '',
  parked: false,
  callers: [],
  follow: null,
  timecode: null,
  timecodeOn: true,
  callOn: 'now',
  sends: [],
});

/** Something that a moment pressed and that sounds. */
export interface Sounding {
  line: number;
  muted: boolean;
  releases: readonly Signal[];
  /** What holds its keys (core/keys/holders). */
  holder: object;
  /** The run that pressed it. */
  run: Run;
}

/** Something that a run does later. */
export type Later =
  | { run: Run; do: 'send'; planned: Planned }
  | { run: Run; do: 'release'; key: string; sounding: Sounding }
  | { run: Run; do: 'type'; line: number; muted: boolean; part: TypedPart; down: TapsDown; holder: object }
  | { run: Run; do: 'end' }
  /** Stops the runs that existed when this was planned. */
  | { run: Run; do: 'stop'; runs: readonly Run[] };

/** Identifies what sounds: a note of a channel, or a key, with its line. */
export const keyOf = (line: number, signal: Signal): string =>
  signal.kind === 'key'
    ? `${line} ${signal.code}`
    : 'channel' in signal
      ? `${line} ${signal.channel} ${signal.number}`
      : '';

/** A file that would play until it is stopped is played once when it is tried. */
export const tried = (send: MomentSend): MomentSend => (send.kind === 'file' ? { ...send, times: 1 } : send);
