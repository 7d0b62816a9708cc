/** What leaves a line later than it was sent, since the line has a delay: each line's in its order, and never after it was let go. */
import { createAgenda } from '../../agenda.js';
import { copySignal, type Signal } from '../../signal.js';
import type { Part } from '../part.js';

interface Delayed {
  line: number;
  signal: Signal;
  sender: string;
  lamp: boolean;
  because: number;
}

export interface DelaysPart extends Part {
  /** Whether what is sent on a line now leaves later. */
  has(line: number): boolean;
  /** Keeps a copy of the signal until it is due. @returns false where so much is kept that it can't be */
  keep(delayed: Delayed, now: number): boolean;
}

/** Signals that wait at once; at 2,000 a second, ten seconds. */
const MOST = 20_000;

/** @param leave called when one is due, in the order of their times */
export function createDelaysPart(leave: (delayed: Delayed) => void): DelaysPart {
  const agenda = createAgenda<Delayed>();
  /** By line, in ms. */
  let delays: number[] = [];
  /** By line: when the last that waits is due. A delay that was made shorter does not overtake. */
  let lastAt: number[] = [];
  let waiting: number[] = [];
  let count = 0;

  /** All that waits on a line leaves, in its order. */
  function leaveAll(line: number): void {
    if (!waiting[line]) return;
    const all = agenda.drop((delayed) => delayed.line === line);
    waiting[line] = 0;
    lastAt[line] = -Infinity;
    count -= all.length;
    for (const delayed of all) leave(delayed);
  }

  return {
    load({ show, whole, lines }) {
      if (!whole) return;
      delays = [];
      for (const { id, delayMs, muted } of show.lines) {
        const line = lines.indexOf(id);
        // What sounds on a line is released as the line is muted: at once, and nothing that waited comes after it.
        if (muted) leaveAll(line);
        else if (delayMs > 0) delays[line] = delayMs;
      }
    },
    has: (line) => (delays[line] ?? 0) > 0 || (waiting[line] ?? 0) > 0,
    keep(delayed, now) {
      if (count >= MOST) return false;
      const { line } = delayed;
      const dueAt = Math.max(now + (delays[line] ?? 0), lastAt[line] ?? -Infinity);
      lastAt[line] = dueAt;
      waiting[line] = (waiting[line] ?? 0) + 1;
      count++;
      agenda.put(dueAt, { ...delayed, signal: copySignal(delayed.signal) });
      return true;
    },
    wakeAt: () => agenda.nextAt(),
    wake(now) {
      for (let delayed = agenda.take(now); delayed; delayed = agenda.take(now)) {
        count--;
        waiting[delayed.line]!--;
        leave(delayed);
      }
    },
    letGo() {
      agenda.drop(() => true);
      lastAt = [];
      waiting = [];
      count = 0;
    },
  };
}
