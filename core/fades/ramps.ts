/** Ramps the values of controllers, addresses and other places that are not slots. A later ramp to the same place takes over. Given the time; reads no clock. */
import { MOVE_MS } from '../time/pace.js';

export interface RampTo {
  /** The place with its line (core/place). */
  target: string;
  to: number;
  ms: number;
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
  since: number;
}

export function createRamps(): Ramps {
  const values = new Map<string, number>();
  const ramps = new Map<string, Running>();
  let next = Infinity;

  return {
    start(ramp, now) {
      const from = values.get(ramp.target) ?? 0;
      ramps.delete(ramp.target);
      if (ramp.ms === 0) {
        values.set(ramp.target, ramp.to);
        return ramp.apply(ramp.to);
      }
      ramps.set(ramp.target, { ...ramp, from, since: now });
      next = Math.min(next, now + Math.min(MOVE_MS, ramp.ms));
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
      if (ramps.size === 0) next = Infinity;
    },
    wakeAt: () => next,
    wake(now) {
      if (now < next) return;
      let end = Infinity;
      for (const [target, ramp] of ramps) {
        const part = Math.min(1, (now - ramp.since) / ramp.ms);
        const bent = part === 1 || !ramp.curve ? part : ramp.curve(part);
        const value = part === 1 ? ramp.to : ramp.from + (ramp.to - ramp.from) * bent;
        if (part === 1) ramps.delete(target);
        else end = Math.min(end, ramp.since + ramp.ms);
        values.set(target, value);
        ramp.apply(value);
      }
      next = ramps.size === 0 ? Infinity : Math.min(now + MOVE_MS, end);
    },
  };
}
