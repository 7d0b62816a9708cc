/** A listener that remembers what a driver tells it. */
import type { LineState } from '@tawny-signal/core/live/messages';
import { copySignal, type Signal } from '@tawny-signal/core/signal';
import type { LineListener } from './drivers/driver.js';

export interface Recorded {
  listener: LineListener;
  heard: Signal[];
  /** Reasons. */
  bad: string[];
  state: () => LineState;
}

export function recorded(): Recorded {
  const heard: Signal[] = [];
  const bad: string[] = [];
  let state: LineState = { state: 'waiting', trouble: '' };
  const listener: LineListener = {
    // A driver uses its signals again.
    heard: (signal) => heard.push(copySignal(signal)),
    bad: (reason) => bad.push(reason),
    gone: () => undefined,
    carried: () => undefined,
    take: (work) => work(Infinity),
    holdUp: () => false,
    state: (next) => (state = next),
  };
  return { listener, heard, bad, state: () => state };
}
