/** The log of what a stand-in received last. */

export type Logged<T> = T & {
  seq: number;
  /** Milliseconds since 1970. */
  at: number;
};

export interface Log<T> {
  add(entry: T): void;
  /** The total number, and the last ones, the newest first. */
  seen(): { count: number; received: Logged<T>[] };
}

const KEEP = 8;

export function createLog<T>(): Log<T> {
  let received: Logged<T>[] = [];
  let count = 0;
  return {
    add(entry) {
      count++;
      received = [{ ...entry, seq: count, at: Date.now() }, ...received].slice(0, KEEP);
    },
    seen: () => ({ count, received }),
  };
}
