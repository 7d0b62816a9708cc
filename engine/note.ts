/** Notes that an engine leaves to the one after it: entries of the ledger that the launcher keeps, which belong to no line. */
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';

/** No line has an empty id. */
const LINE = '';

/** What an engine has left. */
export interface Left {
  /** The entries that are still owed. */
  owed: readonly LedgerEntry[];
  /** What was kept, brought up to the notes; null for nothing. */
  live: KeptLive | null;
}

/** @param key tells the note from others; the one before it with this key is replaced */
export function writeNote(note: LedgerPipe['note'], key: string, noted: object): void {
  note(LINE, key, JSON.stringify(noted));
}

/** Takes a note out of what was left. @returns the entries without it, and what it says; null for no note */
export function takeNote<T>(
  owed: readonly LedgerEntry[],
  key: string,
): { owed: readonly LedgerEntry[]; noted: Partial<T> | null } {
  const entry = owed.find(([line, other]) => line === LINE && other === key);
  if (!entry) return { owed, noted: null };
  const noted = JSON.parse(entry[2]?.[0] ?? '{}') as Partial<T>;
  return { owed: owed.filter((one) => one !== entry), noted };
}
