/** What passed on each line in each second of the last minute, and when the line was not open. */
import type { LineTotals } from '@tawny-signal/core/live/batch';

export const TRACE_SECONDS = 60;

export interface Trace {
  /** Messages in each second, the oldest first; `TRACE_SECONDS` of them. */
  readonly in: readonly number[];
  readonly out: readonly number[];
  /** True for a second in which the line was not open, if only for a moment. */
  readonly down: readonly boolean[];
}

type Totals = Pick<LineTotals, 'inCount' | 'outCount'>;

interface Kept {
  totals: Totals | null;
  /** The second that the last places stand for. */
  second: number;
  in: number[];
  out: number[];
  down: boolean[];
  isDown: boolean;
}

export interface Traces {
  note(id: string, totals: Totals, nowMs: number): void;
  /** The line has opened, or is not open any more. */
  opened(id: string, isOpen: boolean, nowMs: number): void;
  of(id: string, nowMs: number): Trace;
}

const empty = (second: number): Kept => ({
  totals: null,
  second,
  in: new Array<number>(TRACE_SECONDS).fill(0),
  out: new Array<number>(TRACE_SECONDS).fill(0),
  down: new Array<boolean>(TRACE_SECONDS).fill(false),
  isDown: false,
});

/** Moves the minute on to a second. */
function moveOn(kept: Kept, second: number): void {
  const steps = Math.min(TRACE_SECONDS, second - kept.second);
  if (steps <= 0) return;
  kept.second = second;
  for (let step = 0; step < steps; step++) {
    kept.in.shift();
    kept.in.push(0);
    kept.out.shift();
    kept.out.push(0);
    kept.down.shift();
    kept.down.push(kept.isDown);
  }
}

export function createTraces(): Traces {
  const all = new Map<string, Kept>();
  function at(id: string, nowMs: number): Kept {
    const second = Math.floor(nowMs / 1000);
    let kept = all.get(id);
    if (!kept) all.set(id, (kept = empty(second)));
    moveOn(kept, second);
    return kept;
  }
  return {
    note(id, totals, nowMs) {
      const kept = at(id, nowMs);
      const before = kept.totals;
      kept.totals = totals;
      // The first totals are of all that passed before, and smaller ones are those of a line that was opened again.
      if (!before || totals.inCount < before.inCount || totals.outCount < before.outCount) return;
      kept.in[TRACE_SECONDS - 1]! += totals.inCount - before.inCount;
      kept.out[TRACE_SECONDS - 1]! += totals.outCount - before.outCount;
    },
    opened(id, isOpen, nowMs) {
      const kept = at(id, nowMs);
      kept.isDown = !isOpen;
      if (!isOpen) kept.down[TRACE_SECONDS - 1] = true;
    },
    of(id, nowMs) {
      const kept = at(id, nowMs);
      return { in: [...kept.in], out: [...kept.out], down: [...kept.down] };
    },
  };
}
