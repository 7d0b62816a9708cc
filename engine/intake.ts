/**
 * Processes the input of lines in turns. No line takes more than some milliseconds before the others have their turn, so that a flood is felt on its
 * own line only. Input that cannot be processed at once waits in a bounded queue; what does not fit is dropped and counted.
 */

/** Processes a part of the input. @param until when to stop, in monotonic ms. @returns whether all of it is done */
export type Work = (until: number) => boolean;

export interface Intake {
  /**
   * Processes input: at once if nothing waits and the line has time left in this turn.
   * @param bytes of memory that it needs while it waits
   * @param ageMs how long ago it arrived, if that is known better than by this call
   * @returns false if the queue is full and the input is dropped
   */
  take(work: Work, bytes: number, ageMs?: number): boolean;
  /** When the input that is being processed arrived, in monotonic ms, however long it has waited. Between inputs: the current time. */
  arrivedAt(): number;
  /** Returns whether so much waits that a sender should be held up, if it can be. */
  isBehind(): boolean;
  /** Calls back once nothing waits any more. */
  whenEmpty(act: () => void): void;
  /** Returns how many inputs were dropped since the line was opened. */
  dropped(): number;
  close(): void;
}

/** The time of a turn for all lines together, and the least time for each, in ms. */
const TURN_MS = 2;
const LEAST_MS = 0.25;
/** The most that may wait on one line. */
const MOST_WAITING = 4096;
const MOST_BYTES = 4 << 20;
/** A sender that can be held up is, when more than this waits. */
const BEHIND = 256;
const BEHIND_BYTES = 1 << 18;

interface Waiting {
  work: Work;
  bytes: number;
  arrivedAt: number;
}

interface Queue {
  list: Waiting[];
  /** Index of the first entry that is not done. */
  first: number;
  bytes: number;
  /** The turn in which the line last spent time, and how much. */
  turn: number;
  spentMs: number;
  dropped: number;
  whenEmpty: (() => void)[];
}

export interface Intakes {
  open(): Intake;
}

/** @param now returns monotonic ms. @param later calls back after others had their turn */
export function createIntakes(
  now: () => number = () => performance.now(),
  later: (act: () => void) => void = setImmediate,
): Intakes {
  /** Queues that are not empty, in the order of their turns. */
  const busy = new Set<Queue>();
  let turn = 0;
  let inTurn = false;
  let planned = false;
  /** When the input that is being processed arrived; null between inputs. */
  let arrived: number | null = null;

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

  function process(work: Work, until: number, at: number): boolean {
    arrived = at;
    try {
      return work(until);
    } finally {
      arrived = null;
    }
  }

  /** Processes a queue for the length of its turn. */
  function serve(queue: Queue): void {
    const until = now() + budget();
    while (queue.first < queue.list.length) {
      const { work, bytes, arrivedAt } = queue.list[queue.first]!;
      if (!process(work, until, arrivedAt)) return;
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

  function wait(queue: Queue, work: Work, bytes: number, arrivedAt: number): boolean {
    if (queue.list.length - queue.first >= MOST_WAITING || queue.bytes + bytes > MOST_BYTES) {
      queue.dropped++;
      return false;
    }
    queue.list.push({ work, bytes, arrivedAt });
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
        take(work, bytes, ageMs = 0) {
          if (closed) return false;
          const from = now();
          const arrivedAt = from - ageMs;
          if (queue.list.length > queue.first) return wait(queue, work, bytes, arrivedAt);
          const current = turnNow();
          if (queue.turn !== current) {
            queue.turn = current;
            queue.spentMs = 0;
          }
          const left = budget() - queue.spentMs;
          if (left <= 0) return wait(queue, work, bytes, arrivedAt);
          const done = process(work, from + left, arrivedAt);
          queue.spentMs += now() - from;
          return done || wait(queue, work, bytes, arrivedAt);
        },
        arrivedAt: () => arrived ?? now(),
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

/** Bytes of a stream that are processed between two looks at the clock. */
const SLICE = 512;

/** Creates work that processes the bytes of a stream in slices. @param feed accepts the stream in any split */
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
