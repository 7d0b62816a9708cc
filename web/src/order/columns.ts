/** The columns of the running order. */
import { lineOfSend } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';

/** A column: a line, or null for sends that act on the show itself. */
export interface Column {
  lineId: string | null;
  name: string;
}

/** Returns the lines that moments send to, in order. */
export function columnsOf({ moments, lines }: Show): Column[] {
  const used = new Set(moments.flatMap(({ sends }) => sends.map(lineOfSend)));
  const columns: Column[] = lines
    .filter(({ id }) => used.has(id))
    .map(({ id, name }) => ({ lineId: id, name }));
  return used.has(null) ? [...columns, { lineId: null, name: 'This show' }] : columns;
}
