/** Compiles the mappings of a show a few at a time, before it is loaded: what is heard meanwhile is played in between. */
import type { EngineInput } from '@tawny-signal/core/engine';
import type { Show } from '@tawny-signal/core/show';

/** Rows that are compiled at once: some milliseconds. */
const AT_ONCE = 50;

/** How many rows of a show are compiled: its mappings, and the controls that call its moments. */
const rowsOf = ({ mappings, moments }: Show): number =>
  mappings.length + moments.reduce((sum, { callers }) => sum + callers.length, 0);

/**
 * @param lineIndex the index that each line will have, by its id. @param give passes an input to the core engine
 * @param done is called at the end. @returns stops it; then `done` is not called
 */
export function compileAhead(
  show: Show,
  lineIndex: ReadonlyMap<string, number>,
  give: (input: EngineInput) => void,
  done: () => void,
): () => void {
  const rows = rowsOf(show);
  let next: NodeJS.Immediate | null = null;
  function step(from: number): void {
    if (from >= rows) return done();
    give({ t: 'prepare', show, lineIndex, from, to: from + AT_ONCE });
    next = setImmediate(() => step(from + AT_ONCE));
  }
  next = setImmediate(() => step(0));
  return () => {
    if (next) clearImmediate(next);
  };
}

/** A show with fewer rows than this is compiled at once, in some milliseconds. */
const FEW_ROWS = 200;

export interface Compiler {
  /** True while a large show is being compiled that is not played yet. */
  isBusy(): boolean;
  /** Compiles what a show needs, and calls `then`, which loads it: at once for a small show. */
  first(show: Show, then: () => void): void;
  /** Compiles no more; `then` is not called. */
  stop(): void;
}

/** @param indexes of the lines that are known by now. @param loaded is called after a large show was loaded */
export function createCompiler(
  indexes: () => ReadonlyMap<string, number>,
  give: (input: EngineInput) => void,
  loaded: () => void,
): Compiler {
  let stop: (() => void) | null = null;
  return {
    isBusy: () => stop !== null,
    first(show, then) {
      if (rowsOf(show) < FEW_ROWS) return then();
      // New lines are going to be numbered in this order.
      const lineIndex = new Map(indexes());
      for (const { id } of show.lines) if (!lineIndex.has(id)) lineIndex.set(id, lineIndex.size);
      stop = compileAhead(show, lineIndex, give, () => {
        stop = null;
        then();
        loaded();
      });
    },
    stop: () => stop?.(),
  };
}
