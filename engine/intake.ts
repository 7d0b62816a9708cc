/**
 * What comes in on lines, served in turns: no line takes more than some milliseconds before the others have theirs, so that a flood on one is felt there
 * only. What can't be taken at once waits, up to a bound; what is over it is dropped and counted.
 */

/** Does some of what came in. @param until monotonic ms when to leave off. @returns whether all of it is done */
export type Work = (until: number) => boolean;

export interface Intake {
  /**
   * Does what came in: at once where nothing waits and the line has time left in this turn.
   * @param bytes that are kept while it waits
   * @returns false where so much waits that it is dropped
   */
  take(work: Work, bytes: number): boolean;
  /** More waits than a sender that can be held up should send on. */
  isBehind(): boolean;
  /** Called once nothing waits any more. */
  whenEmpty(act: () => void): void;
  /** What was dropped since the line was opened. */
  dropped(): number;
  close(): void;
}

/** Milliseconds that the lines have together in a turn, and that each has at least. */
const TURN_MS = 2;
const LEAST_MS = 0.25;
/** What waits on one line. */
const MOST_WAITING = 4096;
const MOST_BYTES = 4 << 20;
/** From here on a sender that can be held up is. */
const BEHIND = 256;
const BEHIND_BYTES = 1 << 18;

interface Waiting {
  work: Work;
  bytes: number;
}

interface Queue {
  list: Waiting[];
  /** The first in the list that is not done. */
  first: number;
  bytes: number;
  /** What this line took in the turn. */
  turn: number;
  spentMs: number;
  dropped: number;
  whenEmpty: (() => void)[];
}

export interface Intakes {
  open(): Intake;
}

/** @param now monotonic ms. @param later called with what is to be done after others had their turn */
export function createIntakes(
  now: () => number = () => performance.now(),
  later: (act: () => void) => void = setImmediate,
): Intakes {
  /** Lines on which something waits, in the order of their turns. */
  const busy = new Set<Queue>();
  let turn = 0;
  let inTurn = false;
  let planned = false;

  function turnNow(): number {
    if (!inTurn) {
      inTurn = true;
      later(() => {
        inTurn = false;
        turn++;
      });
    }
    return turn;
  }

  const budget = (): number => Math.max(LEAST_MS, TURN_MS / Math.max(1, busy.size));

  function empty(queue: Queue): void {
    queue.list = [];
    queue.first = queue.bytes = 0;
    busy.delete(queue);
    const acts = queue.whenEmpty;
    queue.whenEmpty = [];
    for (const act of acts) act();
  }

  /** Does what waits on a line for as long as its turn is. */
  function serve(queue: Queue): void {
    const until = now() + budget();
    while (queue.first < queue.list.length) {
      const { work, bytes } = queue.list[queue.first]!;
      if (!work(until)) return;
      queue.first++;
      queue.bytes -= bytes;
      if (now() >= until) break;
    }
    if (queue.first === queue.list.length) empty(queue);
    else if (queue.first >= MOST_WAITING) {
      queue.list = queue.list.slice(queue.first);
      queue.first = 0;
    }
  }

  function plan(): void {
    if (planned) return;
    planned = true;
    later(() => {
      planned = false;
      for (const queue of [...busy]) serve(queue);
      if (busy.size > 0) plan();
    });
  }

  function wait(queue: Queue, work: Work, bytes: number): boolean {
    if (queue.list.length - queue.first >= MOST_WAITING || queue.bytes + bytes > MOST_BYTES) {
      queue.dropped++;
      return false;
    }
    queue.list.push({ work, bytes });
    queue.bytes += bytes;
    busy.add(queue);
    plan();
    return true;
  }

  return {
    open() {
      const queue: Queue = {
        list: [],
        first: 0,
        bytes: 0,
        turn: -1,
        spentMs: 0,
        dropped: 0,
        whenEmpty: [],
      };
      let closed = false;
      return {
        take(work, bytes) {
          if (closed) return false;
          if (queue.list.length > queue.first) return wait(queue, work, bytes);
          const current = turnNow();
          if (queue.turn !== current) {
            queue.turn = current;
            queue.spentMs = 0;
          }
          const left = budget() - queue.spentMs;
          if (left <= 0) return wait(queue, work, bytes);
          const from = now();
          const done = work(from + left);
          queue.spentMs += now() - from;
          return done || wait(queue, work, bytes);
        },
        isBehind: () => queue.list.length - queue.first > BEHIND || queue.bytes > BEHIND_BYTES,
        whenEmpty(act) {
          if (queue.list.length === queue.first) act();
          else queue.whenEmpty.push(act);
        },
        dropped: () => queue.dropped,
        close() {
          closed = true;
          empty(queue);
        },
      };
    },
  };
}

/** Bytes of a stream that are taken between two looks at the clock. */
const SLICE = 512;

/** A stream's bytes, taken a slice at a time. @param feed takes the stream in any split */
export function inSlices(
  bytes: Uint8Array,
  feed: (slice: Uint8Array) => void,
  now: () => number = () => performance.now(),
): Work {
  let at = 0;
  return (until) => {
    while (at < bytes.length) {
      const end = Math.min(at + SLICE, bytes.length);
      const slice = at === 0 && end === bytes.length ? bytes : bytes.subarray(at, end);
      at = end;
      feed(slice);
      if (at < bytes.length && now() >= until) return false;
    }
    return true;
  };
}
