/** What leaves a line later than now, since the line has a delay: in order, and never after the line was cleared. */
import { copySignal, type Signal } from '@tawny-signal/core/signal';

export interface Delayed {
  dueAt: number;
  slot: number;
  signal: Signal;
  sender: string;
  cause: number;
}

export interface Delays {
  /** Keeps a copy of the signal until then. @returns false where so much is kept that it can't be. */
  keep(delayed: Delayed): boolean;
  /** Forgets all that waits, or what waits on one line. */
  clear(slot?: number): void;
}

/** Signals that wait at once; at 2,000 a second, ten seconds. */
const MOST = 20_000;

/** @param leave called when one is due, in the order of their times */
export function createDelays(leave: (delayed: Delayed) => void): Delays {
  /** By line: its delay is the same for all, so that each list is in order. */
  const waiting = new Map<number, Delayed[]>();
  let count = 0;
  let timer: NodeJS.Timeout | null = null;
  let timerAt = Infinity;

  function plan(): void {
    let first = Infinity;
    for (const [head] of waiting.values()) if (head) first = Math.min(first, head.dueAt);
    if (first >= timerAt && timer) return;
    if (timer) clearTimeout(timer);
    timerAt = first;
    timer = first === Infinity ? null : setTimeout(due, Math.max(0, first - performance.now()));
  }

  function due(): void {
    timer = null;
    timerAt = Infinity;
    const now = performance.now() + 0.5;
    for (const list of waiting.values()) {
      let done = 0;
      while (done < list.length && list[done]!.dueAt <= now) leave(list[done++]!);
      list.splice(0, done);
      count -= done;
    }
    plan();
  }

  return {
    keep(delayed) {
      if (count >= MOST) return false;
      const list = waiting.get(delayed.slot) ?? [];
      // A delay that was made shorter does not overtake.
      const dueAt = Math.max(delayed.dueAt, list.at(-1)?.dueAt ?? -Infinity);
      list.push({ ...delayed, dueAt, signal: copySignal(delayed.signal) });
      waiting.set(delayed.slot, list);
      count++;
      plan();
      return true;
    },
    clear(slot) {
      for (const [at, list] of waiting) {
        if (slot !== undefined && at !== slot) continue;
        count -= list.length;
        list.length = 0;
      }
      plan();
    },
  };
}
