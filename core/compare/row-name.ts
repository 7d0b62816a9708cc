/** What a row is called, whatever its table. */
import { mappingName } from '../mapping/words.js';
import type { Show } from '../show.js';
import { momentName } from '../show/moment-name.js';
import type { RowOf, TableName } from '../show/tables.js';
import { TIME_WAYS } from '../time/ways.js';

/** Names a row by its name, its cue, or by its lines. */
export function rowName(show: Show, row: RowOf[TableName]): string {
  if ('hear' in row) return mappingName(row);
  if ('cue' in row) return momentName(row);
  if ('name' in row) return row.name;
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  if (!('fromId' in row)) return `${lineName(row.lineId)}, ${TIME_WAYS[row.kind].words}`;
  return `${lineName(row.fromId)} to ${lineName(row.toId)}`;
}
