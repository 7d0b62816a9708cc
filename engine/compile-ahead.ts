/** Compiles the mappings of a show a few at a time, before it is loaded: what is heard meanwhile is played in between. */
import type { EngineInput } from '@tawny-signal/core/engine';
import type { Show } from '@tawny-signal/core/show';

/** Rows that are compiled at once: some milliseconds. */
const AT_ONCE = 50;

/** How many rows of a show are compiled: its mappings, and the controls that call its moments. */
export const rowsOf = ({ mappings, moments }: Show): number =>
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
