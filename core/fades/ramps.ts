/** Ramps the values of controllers, addresses and other places that are not slots. A later ramp to the same place takes over. Given the time; reads no clock. */
import { MOVE_MS } from '../time/pace.js';
import { beatComesAt, isNone, paceOf, STEADY, type Pace, type Span, type TempoNow } from '../time/span.js';

export interface RampTo {
  /** The place with its line (core/place). */
  target: string;
  to: number;
  over: Span;
  /** Maps 0–1 to 0–1; straight by default. */
  curve?: (part: number) => number;
  /** Sends a value. */
  apply(value: number): void;
  /** Id of the moment that ramps. */
  owner: string;
}

export interface Ramps {
  /** Starts a ramp at the last value of the place; at 0 if nothing was sent to it. */
  start(ramp: RampTo, now: number): void;
  /** Sets the value of a place and ends its ramp. */
  set(target: string, value: number): void;
  /** Records that somebody else sent a value to a place. The next ramp starts there; a running one goes on, so that a restless fader cannot end it. */
  saw(target: string, value: number): void;
  /** Stops the ramps of some owners where they are. */
  stop(ofOwner: (owner: string) => boolean): void;
  /** When `wake` is due, in monotonic ms; Infinity if nothing moves. */
  wakeAt(): number;
  wake(now: number): void;
}

interface Running extends RampTo {
  from: number;
  pace: Pace;
}

/** @param tempo that ramps in beats follow */
export function createRamps(tempo: TempoNow = STEADY): Ramps {
  const values = new Map<string, number>();
  const ramps = new Map<string, Running>();
  let next = Infinity;
  /** The first beat at which something in beats ends. */
  let nextBeat = Infinity;

  /** An end in beats comes sooner if the tempo has become faster since the last look. */
  const dueAt = (): number => Math.min(next, beatComesAt(nextBeat, tempo));

  return {
    start(ramp, now) {
      const from = values.get(ramp.target) ?? 0;
      ramps.delete(ramp.target);
      if (isNone(ramp.over)) {
        values.set(ramp.target, ramp.to);
        return ramp.apply(ramp.to);
      }
      const pace = paceOf(ramp.over, now, tempo);
      ramps.set(ramp.target, { ...ramp, from, pace });
      next = Math.min(next, now + MOVE_MS, pace.endsAt());
      nextBeat = Math.min(nextBeat, pace.endBeat);
    },
    set(target, value) {
      values.set(target, value);
      ramps.delete(target);
    },
    saw(target, value) {
      if (!ramps.has(target)) values.set(target, value);
    },
    stop(ofOwner) {
      for (const [target, ramp] of ramps) if (ofOwner(ramp.owner)) ramps.delete(target);
      if (ramps.size === 0) next = nextBeat = Infinity;
    },
    wakeAt: dueAt,
    wake(now) {
      if (now < dueAt()) return;
      nextBeat = Infinity;
      let end = Infinity;
      for (const [target, ramp] of ramps) {
        const part = ramp.pace.part(now);
        const bent = part === 1 || !ramp.curve ? part : ramp.curve(part);
        const value = part === 1 ? ramp.to : ramp.from + (ramp.to - ramp.from) * bent;
        if (part === 1) ramps.delete(target);
        else {
          end = Math.min(end, ramp.pace.endsAt());
          nextBeat = Math.min(nextBeat, ramp.pace.endBeat);
        }
        values.set(target, value);
        ramp.apply(value);
      }
      next = ramps.size === 0 ? Infinity : Math.min(now + MOVE_MS, end);
    },
  };
}
