/** A queue of things to do later, ordered by time. Things due at the same time keep the order in which they were added. */

export interface Agenda<T> {
  add(at: number, what: T): void;
  /** When the first thing is due, in monotonic ms; Infinity if the queue is empty. */
  nextAt(): number;
  /** Removes and returns the first thing that is due by now; null if nothing is. */
  nextDue(now: number): T | null;
  /** Removes every thing for which `gone` returns true. @returns the removed things, in order */
  drop(gone: (what: T) => boolean): T[];
}

interface Entry<T> {
  at: number;
  order: number;
  what: T;
}

/** A binary heap. */
export function createAgenda<T>(): Agenda<T> {
  let heap: Entry<T>[] = [];
  let count = 0;
  const before = (a: Entry<T>, b: Entry<T>): boolean => a.at < b.at || (a.at === b.at && a.order < b.order);

  function swap(a: number, b: number): void {
    const entry = heap[a]!;
    heap[a] = heap[b]!;
    heap[b] = entry;
  }
  function up(from: number): void {
    for (let at = from; at > 0;) {
      const parent = (at - 1) >> 1;
      if (!before(heap[at]!, heap[parent]!)) return;
      swap(at, parent);
      at = parent;
    }
  }
  function down(from: number): void {
    for (let at = from; ;) {
      const left = 2 * at + 1;
      let least = at;
      if (left < heap.length && before(heap[left]!, heap[least]!)) least = left;
      if (left + 1 < heap.length && before(heap[left + 1]!, heap[least]!)) least = left + 1;
      if (least === at) return;
      swap(at, least);
      at = least;
    }
  }

  return {
    add(at, what) {
      heap.push({ at, order: count++, what });
      up(heap.length - 1);
    },
    nextAt: () => heap[0]?.at ?? Infinity,
    nextDue(now) {
      const first = heap[0];
      if (!first || first.at > now) return null;
      const last = heap.pop()!;
      if (heap.length > 0) {
        heap[0] = last;
        down(0);
      }
      return first.what;
    },
    drop(gone) {
      const dropped: Entry<T>[] = [];
      const kept = heap.filter((entry) => {
        const goes = gone(entry.what);
        if (goes) dropped.push(entry);
        return !goes;
      });
      if (dropped.length === 0) return [];
      heap = [];
      for (const entry of kept) {
        heap.push(entry);
        up(heap.length - 1);
      }
      return dropped.sort((a, b) => (before(a, b) ? -1 : 1)).map(({ what }) => what);
    },
  };
}
