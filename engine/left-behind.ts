/**
 * What an earlier engine held on lines that this one does not know yet. A line that was added just before that engine died may be missing in the kept
 * show, but is in the server's. What it holds waits for that.
 */
import type { Ledger, LedgerCopy } from '@tawny-signal/core/ledger';
import { CARRIES, type Line } from '@tawny-signal/core/show/line';
import { heldOf, type LedgerEntry } from './ledger-pipe.js';

export interface LeftBehind {
  /** Sets what the earlier engine held, from the launcher's ledger. */
  begin(entries: readonly LedgerEntry[]): void;
  /** Moves what was held on these lines to the ledger. @param all true if there are no other lines: the rest is discarded */
  find(lines: readonly Line[], all: boolean): void;
}

export function createLeftBehind(ledger: Ledger, copy: LedgerCopy): LeftBehind {
  let waiting: readonly LedgerEntry[] = [];

  /** @returns false if its line is not among these */
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
