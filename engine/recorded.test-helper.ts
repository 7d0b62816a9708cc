/** A listener that remembers what a driver tells it. */
import type { LineState } from '@tawny-signal/core/live/line-state';
import { copySignal, type Signal } from '@tawny-signal/core/signal';
import type { LineListener } from './drivers/driver.js';
import type { Intake } from './intake.js';

export interface Recorded {
  listener: LineListener;
  heard: Signal[];
  /** Reasons. */
  bad: string[];
  state: () => LineState;
}

/** @param intake that what is heard goes through; without one all of it is taken at once */
export function recorded(intake?: Intake): Recorded {
  const heard: Signal[] = [];
  const bad: string[] = [];
  let state: LineState = { state: 'waiting', trouble: '' };
  let seen: Pick<LineState, 'network'> = {};
  const listener: LineListener = {
    // A driver uses its signals again.
    heard: (signal) => heard.push(copySignal(signal)),
    bad: (reason) => bad.push(reason),
    gone: () => undefined,
    carried: () => undefined,
    take: (work, bytes) => (intake ? intake.take(work, bytes) : work(Infinity)),
    holdUp(resume) {
      if (!intake?.isBehind()) return false;
      intake.whenEmpty(resume);
      return true;
    },
    state: (next) => (state = { ...seen, ...next }),
    seen(next) {
      seen = next;
      state = { ...state, ...next };
    },
  };
  return { listener, heard, bad, state: () => state };
}
