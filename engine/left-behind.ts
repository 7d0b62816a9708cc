/**
 * What an engine before this one held, on lines that are not known yet. A line that was made a moment before that engine died is in the server's show,
 * and may not be in the one that was kept: what it holds waits for the server.
 */
import type { Ledger, LedgerCopy } from '@tawny-signal/core/ledger';
import { CARRIES, type Line } from '@tawny-signal/core/show/line';
import { heldOf, type LedgerEntry } from './ledger-pipe.js';

export interface LeftBehind {
  /** What the engine before this one held, as the launcher knew it. */
  begin(entries: readonly LedgerEntry[]): void;
  /** What was held on these lines is owed there from now on. @param all there are no others: what is held elsewhere can’t be released by anybody, and is forgotten */
  find(lines: readonly Line[], all: boolean): void;
}

export function createLeftBehind(ledger: Ledger, copy: LedgerCopy): LeftBehind {
  let waiting: readonly LedgerEntry[] = [];

  /** @returns false where its line is not among these */
  function owe(entry: LedgerEntry, lines: ReadonlyMap<string, Line['kind']>): boolean {
    const kind = lines.get(entry[0]);
    if (!kind) return false;
    const held = heldOf(entry, CARRIES[kind]);
    if (held) ledger.owe(held);
    else copy.remove(entry[0], entry[1]);
    return true;
  }

  return {
    begin(entries) {
      waiting = entries;
    },
    find(lines, all) {
      if (waiting.length === 0) return;
      const kinds = new Map(lines.map(({ id, kind }) => [id, kind]));
      waiting = waiting.filter((entry) => !owe(entry, kinds));
      if (!all) return;
      for (const [lineId, key] of waiting) copy.remove(lineId, key);
      waiting = [];
    },
  };
}
