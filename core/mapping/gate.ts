/** The conditions under which a mapping accepts a value. */
import type { When } from '../show/when.js';
import type { Outcome } from './outcome.js';

export interface Gate {
  /** @param now monotonic ms, never falling. @returns null if the value is accepted; otherwise the reason */
  keeps(value: number, now: number): Outcome | null;
}

/** @returns null if there are no conditions */
export function createGate({ onceInMs, twiceInMs, changed, crossing }: When): Gate | null {
  if (onceInMs === 0 && twiceInMs === 0 && !changed && crossing === null) return null;
  let last: number | null = null;
  let passedAt = -Infinity;
  let firstAt = -Infinity;
  // A fall needs a higher value before it.
  let ready = crossing?.way === 'rises';

  function crosses(value: number): boolean {
    const { way, at, back } = crossing!;
    const beyond = way === 'rises' ? value >= at : value < at;
    const returned = way === 'rises' ? value < at - back : value >= at + back;
    if (beyond && ready) {
      ready = false;
      return true;
    }
    if (returned) ready = true;
    return false;
  }
  function second(now: number): boolean {
    if (now - firstAt <= twiceInMs) {
      firstAt = -Infinity;
      return true;
    }
    firstAt = now;
    return false;
  }

  return {
    keeps(value, now) {
      const same = value === last;
      last = value;
      if (changed && same) return 'unchanged';
      if (crossing && !crosses(value)) return 'notCrossed';
      if (twiceInMs > 0 && !second(now)) return 'notTwice';
      if (now - passedAt < onceInMs) return 'tooSoon';
      passedAt = now;
      return null;
    },
  };
}
