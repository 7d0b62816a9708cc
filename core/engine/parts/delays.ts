/** The delays of lines. Output for a delayed line waits in a queue, in order, and is discarded by Panic and when the show is made safe. */
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
  /** Returns whether any line has a delay, or any output waits. A signal cannot change this from false to true. */
  any(): boolean;
  /** Returns whether output for this line has to wait. */
  has(line: number): boolean;
  /** Queues a copy of the signal. @returns false if the queue is full */
  keep(delayed: Delayed, now: number): boolean;
}

/** The most signals that wait at one time: ten seconds at 2,000 a second. */
const MOST = 20_000;

/** @param leave sends one signal; called when it is due */
export function createDelaysPart(leave: (delayed: Delayed) => void): DelaysPart {
  const agenda = createAgenda<Delayed>();
  /** The delay of each line in ms, by line index. */
  let delays: number[] = [];
  /** When the last queued signal of each line is due: after a delay is shortened, later signals may not overtake it. */
  let lastAt: number[] = [];
  /** How many signals are queued for each line. */
  let waiting: number[] = [];
  let count = 0;

  /** Sends everything that is queued for a line, in order. */
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
        // Muting a line releases what sounds on it. Nothing queued may follow that release.
        if (muted) leaveAll(line);
        else if (delayMs > 0) delays[line] = delayMs;
      }
    },
    any: () => delays.length > 0 || count > 0,
    has: (line) => (delays[line] ?? 0) > 0 || (waiting[line] ?? 0) > 0,
    keep(delayed, now) {
      if (count >= MOST) return false;
      const { line } = delayed;
      const dueAt = Math.max(now + (delays[line] ?? 0), lastAt[line] ?? -Infinity);
      lastAt[line] = dueAt;
      waiting[line] = (waiting[line] ?? 0) + 1;
      count++;
      agenda.add(dueAt, { ...delayed, signal: copySignal(delayed.signal) });
      return true;
    },
    wakeAt: () => agenda.nextAt(),
    wake(now) {
      for (let delayed = agenda.nextDue(now); delayed; delayed = agenda.nextDue(now)) {
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
