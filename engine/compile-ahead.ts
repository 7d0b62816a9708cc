/** Gets the engine ready for a show before it is loaded, a few milliseconds at a time: what is heard meanwhile is played in between. */
import type { Engine } from '@tawny-signal/core/engine';
import type { Show } from '@tawny-signal/core/show';

/** How long the engine may be held up at once. */
const SLICE_MS = 4;

/** How many rows of a show are compiled. */
const rowsOf = ({ mappings, moments }: Show): number => mappings.length + moments.length;

/** @param work is done step by step. @param done is called at the end. @returns stops it; then `done` is not called */
export function inSlices(work: Iterator<void>, done: () => void): () => void {
  let next: NodeJS.Immediate | null = setImmediate(slice);
  function slice(): void {
    const until = performance.now() + SLICE_MS;
    do {
      if (!work.next().done) continue;
      next = null;
      return done();
    } while (performance.now() < until);
    next = setImmediate(slice);
  }
  return () => {
    if (next) clearImmediate(next);
  };
}

/** Shows with fewer rows than this, that before and that after it, are changed at once, in some milliseconds. */
const FEW_ROWS = 300;

export interface Compiler {
  /** True while a large show is being compiled that is not played yet. */
  isBusy(): boolean;
  /** Compiles what a show needs, and calls `then`, which loads it: at once where it and the one before it are small. */
  first(show: Show, before: Show, then: () => void): void;
  /** Compiles no more; `then` is not called. */
  stop(): void;
}

/** @param prepare gets ready for a show, step by step. @param indexes of the lines that are known by now. @param loaded is called after a large show was loaded */
export function createCompiler(
  prepare: Engine['prepare'],
  indexes: () => ReadonlyMap<string, number>,
  loaded: () => void,
): Compiler {
  let stop: (() => void) | null = null;
  return {
    isBusy: () => stop !== null,
    first(show, before, then) {
      if (rowsOf(show) + rowsOf(before) < FEW_ROWS) return then();
      // New lines are going to be numbered in this order.
      const lineIndex = new Map(indexes());
      for (const { id } of show.lines) if (!lineIndex.has(id)) lineIndex.set(id, lineIndex.size);
      stop = inSlices(prepare(show, lineIndex), () => {
        stop = null;
        then();
        loaded();
      });
    },
    stop: () => stop?.(),
  };
}
