/**
 * Values of controllers, addresses and the like on their way from one to another in a time. What is sent to the same place later takes over
 * from where it is. Given the time; reads no clock.
 */
import { MOVE_MS } from '../time/pace.js';

export interface RampTo {
  /** The place that it is sent to, with its line, as core/sends writes it. */
  target: string;
  to: number;
  ms: number;
  /** From 0–1 to 0–1; straight without one. */
  curve?: (part: number) => number;
  /** Sends a value. */
  apply(value: number): void;
  /** Whose it is: the id of a moment. */
  owner: string;
}

export interface Ramps {
  /** Begins where the place was sent last; before it was sent anything, at 0. */
  start(ramp: RampTo, now: number): void;
  /** A place was sent a value: a ramp to it ends. */
  set(target: string, value: number): void;
  /** Somebody else sent it a value: the next ramp begins there. One that is on its way is not disturbed by a fader that is restless. */
  saw(target: string, value: number): void;
  /** Ends the ramps of an owner where they are. */
  stop(ofOwner: (owner: string) => boolean): void;
  /** Monotonic ms; Infinity when nothing moves. */
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
