/** Edits that replace mappings where they are, so that nothing else is loaded. */
import { positionOf, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import type { Mapping } from '@tawny-signal/core/show/mapping';

/** Edits with more rows than this load the whole show. */
const MOST_REPLACED = 16;

/** Returns the mappings that the ops replace in place, or add after the last one; null if the ops do anything else. */
export function replacedIn(placed: PlacedShow, ops: readonly Op[]): Mapping[] | null {
  if (ops.length > MOST_REPLACED) return null;
  const rows: Mapping[] = [];
  const { mappings } = placed.show;
  const last = mappings.at(-1);
  let end = last ? positionOf(placed, 'mappings', last.id) : -Infinity;
  for (const op of ops) {
    if (op.op !== 'put' || op.table !== 'mappings') return null;
    const isKnown = mappings.some(({ id }) => id === op.row.id) || rows.some(({ id }) => id === op.row.id);
    if (isKnown ? positionOf(placed, 'mappings', op.row.id) !== op.position : op.position <= end) return null;
    if (!isKnown) end = op.position;
    rows.push(op.row);
  }
  return rows;
}
