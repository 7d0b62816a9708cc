/** Which rows signals have changed since they were written last. */
import type { PlacedShow } from '@tawny-signal/core/edits';
import type { KeptState } from '../database/schema.js';
import type { LiveRows } from './show-store.js';

/** What signals change, and a restart goes on from. */
export interface LiveState {
  placed: PlacedShow;
  /** The moment that stands by. */
  standingBy: string | null;
  kept: KeptState | null;
}

export function changedSince(now: LiveState, written: LiveState): LiveRows {
  const { banks } = now.placed.show;
  const rows: LiveRows = { banks: banks.filter((bank) => !written.placed.show.banks.includes(bank)) };
  if (now.standingBy !== written.standingBy) rows.standingBy = now.standingBy;
  if (JSON.stringify(now.kept) !== JSON.stringify(written.kept)) rows.kept = now.kept;
  return rows;
}

export const isSame = ({ banks, ...rest }: LiveRows): boolean =>
  banks.length === 0 && Object.keys(rest).length === 0;
