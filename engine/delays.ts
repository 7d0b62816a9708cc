/** What leaves a line later than now, since the line has a delay: in order, and never after the line was cleared. */
import { createAgenda } from '@tawny-signal/core/agenda';
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
  const agenda = createAgenda<Delayed>();
  /** When the last that waits on a line is due: a delay that was made shorter does not overtake. */
  const lastAt = new Map<number, number>();
  let count = 0;
  let timer: NodeJS.Timeout | null = null;
  let timerAt = Infinity;

  function plan(): void {
    const first = agenda.nextAt();
    if (first === timerAt) return;
    if (timer) clearTimeout(timer);
    timerAt = first;
    timer = first === Infinity ? null : setTimeout(due, Math.max(0, first - performance.now()));
  }

  function due(): void {
    timerAt = Infinity;
    const now = performance.now() + 0.5;
    for (let delayed = agenda.take(now); delayed; delayed = agenda.take(now)) {
      count--;
      leave(delayed);
    }
    plan();
  }

  return {
    keep(delayed) {
      if (count >= MOST) return false;
      const dueAt = Math.max(delayed.dueAt, lastAt.get(delayed.slot) ?? -Infinity);
      lastAt.set(delayed.slot, dueAt);
      agenda.put(dueAt, { ...delayed, dueAt, signal: copySignal(delayed.signal) });
      count++;
      plan();
      return true;
    },
    clear(slot) {
      agenda.drop((delayed) => {
        const gone = slot === undefined || delayed.slot === slot;
        if (gone) count--;
        return gone;
      });
      if (slot === undefined) lastAt.clear();
      else lastAt.delete(slot);
      plan();
    },
  };
}
