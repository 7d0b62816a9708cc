/**
 * Which moments are due as the position runs. A mark says up to where everything is done; it moves forward with the position, so that nothing is due
 * twice while the position trembles.
 */
import type { PassedWhy } from './position.js';

export interface Due {
  id: string;
  /** The position in ms. */
  ms: number;
  /** True if it was taken out: it is passed, and not called. */
  out: boolean;
}

export interface Calls {
  load(dues: readonly Due[]): void;
  /** The position begins to run, or runs on after a jump. Everything from here on is still to be called. */
  begin(ms: number): void;
  /** The position has run forward to here. @returns what is due, in its order */
  passTo(ms: number): readonly Due[];
  /** The position has run backward to here. @param tremble ms that it may tremble by */
  backTo(ms: number, tremble: number): void;
  /** Up to where everything is done. */
  mark(): number;
  /** The next that will be called; null for none. */
  next(): Due | null;
  /** The last one at or before a position, that would be called; null for none. */
  lastBefore(ms: number): Due | null;
  /** Those between two positions, both included. */
  between(from: number, to: number): readonly Due[];
}

const NONE: readonly Due[] = [];

export function createCalls(): Calls {
  let dues: readonly Due[] = NONE;
  let mark = -Infinity;

  /** The first place whose position is more than `ms`. */
  function after(ms: number): number {
    let low = 0;
    let high = dues.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (dues[middle]!.ms > ms) high = middle;
      else low = middle + 1;
    }
    return low;
  }

  return {
    load(next) {
      dues = [...next].sort((a, b) => a.ms - b.ms);
    },
    begin(ms) {
      // What is due exactly here is still to come.
      mark = ms - 1e-6;
    },
    passTo(ms) {
      if (ms <= mark) return NONE;
      const from = after(mark);
      mark = ms;
      const to = after(ms);
      return from === to ? NONE : dues.slice(from, to);
    },
    backTo(ms, tremble) {
      if (ms < mark - tremble) mark = ms;
    },
    mark: () => mark,
    next() {
      for (let place = after(mark); place < dues.length; place++) if (!dues[place]!.out) return dues[place]!;
      return null;
    },
    lastBefore: (ms) => dues.slice(0, after(ms)).findLast(({ out }) => !out) ?? null,
    between: (from, to) => (to < from ? NONE : dues.slice(after(from - 1e-6), after(to))),
  };
}

export const whyPassed = (due: Due, callsOn: boolean): PassedWhy | null =>
  due.out ? 'takenOut' : callsOn ? null : 'off';
