/** A queue of things to do later, ordered by time. Things due at the same time keep the order in which they were added. */
import { endBeat, STEADY, type Span, type TempoNow } from './time/span.js';
import { timeOf } from './time/tempo.js';

export interface Agenda<T> {
  add(at: number, what: T): void;
  /** Adds what is due after a span that begins now. A span in beats follows the tempo. */
  after(span: Span, now: number, what: T): void;
  /** Adds what is due at a beat of the tempo. */
  atBeat(beat: number, what: T): void;
  /** When the first thing is due, in monotonic ms; Infinity if the queue is empty. */
  nextAt(): number;
  /** Removes and returns the first thing that is due by now; null if nothing is. */
  nextDue(now: number): T | null;
  /** Removes every thing for which `gone` returns true. @returns the removed things, in order */
  drop(gone: (what: T) => boolean): T[];
}

/** @param tempo that spans in beats follow */
export function createAgenda<T>(tempo: TempoNow = STEADY): Agenda<T> {
  const byTime = createHeap<T>();
  const byBeat = createHeap<T>();
  const beatDueAt = (): number => {
    const beat = byBeat.first();
    return beat === Infinity ? Infinity : timeOf(tempo(), beat);
  };
  return {
    add: (at, what) => byTime.add(at, what),
    after({ ms, beats }, now, what) {
      if (beats === null) byTime.add(now + ms, what);
      else byBeat.add(endBeat(beats, tempo(), now), what);
    },
    atBeat: (beat, what) => byBeat.add(beat, what),
    nextAt: () => Math.min(byTime.first(), beatDueAt()),
    nextDue(now) {
      const beatAt = beatDueAt();
      const at = byTime.first();
      if (Math.min(at, beatAt) > now) return null;
      return (beatAt < at ? byBeat : byTime).take();
    },
    drop: (gone) => [...byTime.drop(gone), ...byBeat.drop(gone)],
  };
}

interface Heap<T> {
  add(at: number, what: T): void;
  /** Where the first thing is; Infinity if there is none. */
  first(): number;
  take(): T | null;
  drop(gone: (what: T) => boolean): T[];
}

interface Entry<T> {
  at: number;
  order: number;
  what: T;
}

/** A binary heap. */
function createHeap<T>(): Heap<T> {
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
    first: () => heap[0]?.at ?? Infinity,
    take() {
      const first = heap[0];
      if (!first) return null;
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
