/** Removes rows, and says the label of the edit, so that a message can offer to undo exactly that. */
import type { Op, PlacedShow } from '@tawny-signal/core/edits';
import type { TableName } from '@tawny-signal/core/show/tables';
import { removeRow } from './rows.js';
import type { ShowService } from './show.service.js';

export interface Removed {
  /** The label of the edit in the list of changes. */
  label: string;
}

/** @param moveTo the row that what uses the removed one is to use instead. @param before returns what else is changed, before the removal */
export async function removeFrom(
  show: ShowService,
  label: string,
  table: TableName,
  id: string,
  moveTo?: string,
  before: (placed: PlacedShow) => Op[] = () => [],
): Promise<Removed> {
  await show.edit(label, (placed) => {
    const { ops, result } = removeRow(placed, table, id, moveTo);
    return { ops: [...before(placed), ...ops], result };
  });
  return { label };
}
