/**
 * Presses over a bad network: a browser sends one again until it is answered, so each has an id and acts once; and a Go that was held up on its way does
 * not fire when nobody expects it any more. The engine asks here, so that a web server that dies between a call and its answer makes no second call.
 */
import type { OrderAct } from './order.js';

/** A call that comes later than this after it was pressed is refused, in ms. */
export const LATE_MS = 1500;
export const LONGEST_PRESS_ID = 64;
/** The presses that are remembered, and those of them that an engine leaves to the one after it. */
const MOST = 500;
const MOST_LEFT = 20;
/** What ends or holds something is welcome however late. */
const NEVER_LATE: readonly OrderAct['do'][] = ['hold', 'stop', 'stopAll'];

export interface Press {
  id: string;
  /** How long ago it was made when it came, in ms. */
  lateMs: number;
}

export interface Presses {
  /** @returns `act` if it is to be done now; `done` if it was done already; `late` if it is refused */
  take(press: Press | null, what: OrderAct['do']): 'act' | 'done' | 'late';
  /** The ids of the last ones, for the engine after this one. */
  left(): string[];
  /** Takes over what the engine before left. */
  begin(left: readonly string[]): void;
}

export function createPresses(): Presses {
  const done = new Set<string>();
  return {
    take(press, what) {
      if (press === null) return 'act';
      if (done.has(press.id)) return 'done';
      if (press.lateMs > LATE_MS && !NEVER_LATE.includes(what)) return 'late';
      done.add(press.id);
      if (done.size > MOST) done.delete(done.values().next().value!);
      return 'act';
    },
    left: () => [...done].slice(-MOST_LEFT),
    begin(left) {
      for (const id of left) done.add(id);
    },
  };
}
