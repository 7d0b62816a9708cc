/** One run of what makes the values of a motion: from when it begins until it is over. Each voice of a motion has one. */
import type { TempoNow } from '../time/span.js';
import { createCycleClock } from './clock.js';
import type { Drive } from './drive.js';

/** Values are 0–1, times are monotonic ms. `at` is called at each `nextAt`, before anything else of that instant. */
export interface Run {
  /** It begins, or is triggered again. */
  press(now: number): void;
  /** It goes on as if it had begun then: after an edit or a restart, with what `RunStage.before` says. Left out by what can't go on. */
  resume?(beganAt: number): void;
  /** What another run needs to go on from where this one is, or will be at rest; null if nothing is needed. */
  keep?(): number | null;
  /** Its trigger was let go. */
  release?(now: number): void;
  /** Goes on by steps: forward, or backward if below 0. */
  step?(by: number, now: number): void;
  /** A value was given to it. */
  give?(value: number): void;
  /** Does what is due by now. */
  at?(now: number): void;
  /** The value; null before there is one. */
  value(now: number): number | null;
  /** Whether the value changes by itself from now on, so that it has to be looked at again and again. */
  moves(now: number): boolean;
  /** When `at` is due: the value jumps, or begins or ends to move. Infinity if nothing is. */
  nextAt(now: number): number;
  /** Whether it has died away. */
  isOver?(now: number): boolean;
  /** Another number for each press of a note that its steps make. */
  strike?(now: number): number;
  /** Changes how fast it runs: 1 is as written. */
  setSpeed?(speed: number, now: number): void;
}

/** What a run needs of its motion. */
export interface RunStage {
  drive: Drive;
  tempo: TempoNow;
  /** Of its random numbers. */
  seed: number;
  /** How its form is set, 0–1, where something moves it; else null. */
  form(): number | null;
  /** What a motion makes now, or how high a slot is: 0–1; null if that is not known. */
  look(of: Looked): number | null;
  /** What the run said to keep whose place it takes, after an edit or a restart. */
  before: number | null;
}

/** What a hold can take. */
export type Looked = { motionId: string } | { lineId: string | null; slot: number };

/** What is a function of the cycles that have passed. */
export interface Cycle {
  /** @param cycles counted from the beginning, with their fraction; may be below 0 */
  valueAt(cycles: number): number | null;
  /** The next place after this one where the value jumps, or begins or ends to move. */
  next(cycles: number): number;
  moves(cycles: number): boolean;
  /** The number of the press at a place; the whole cycles, or how often it was stepped, if it is left out. */
  strike?(cycles: number): number;
  /** How far one step goes; 1 if it is left out. */
  stride?: number;
}

/** What is due at a place is at it, whatever was rounded on the way there. In cycles. */
const ROUNDING = 1e-7;

export function cycleRun({ drive, tempo, before }: RunStage, cycle: Cycle): Run {
  const clock = createCycleClock(drive, tempo);
  const stepped = drive.by === 'steps';
  const stride = cycle.stride ?? 1;
  /** The first step is place 0. */
  let steps: number | null = stepped ? before : null;
  let presses = 0;
  const here = (now: number): number | null => (stepped ? steps : clock.at(now) + ROUNDING);
  return {
    press(now) {
      steps = null;
      clock.begin(now);
    },
    resume: (beganAt) => clock.begin(beganAt),
    keep: () => steps,
    step(by) {
      if (!stepped) return;
      steps = steps === null ? 0 : steps + by * stride;
      presses++;
    },
    value(now) {
      const place = here(now);
      return place === null ? null : cycle.valueAt(place);
    },
    moves: (now) => !stepped && cycle.moves(clock.at(now) + ROUNDING),
    nextAt(now) {
      if (stepped) return Infinity;
      const place = clock.at(now) + ROUNDING;
      return clock.timeOf(cycle.next(place), now);
    },
    strike(now) {
      const place = here(now) ?? 0;
      return cycle.strike?.(place) ?? (stepped ? presses : Math.floor(place));
    },
    setSpeed: (speed, now) => clock.setSpeed(speed, now),
  };
}
