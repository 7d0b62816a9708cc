/** Releases what the ledger knows to be held, and for Panic what could be held besides. */
import { couldSound } from '@tawny-signal/core/could-sound';
import type { Ledger } from '@tawny-signal/core/ledger';
import type { Show } from '@tawny-signal/core/show';
import type { Delivery } from './delivery.js';
import type { Lines, OpenLine } from './lines.js';

export interface Releases {
  /** Releases all that is known to be held on a line. */
  known(line: OpenLine): void;
  /** Releases what could not be released before, on one line or on all of them. */
  owed(line?: OpenLine): void;
  /**
   * Panic, when what is known to sound was released: what could sound is too.
   * @returns lines whose controllers may have had their lamps put out by it
   */
  all(show: Show): number[];
}

export function createReleases(lines: () => Lines, ledger: Ledger, delivery: Delivery): Releases {
  function release(line: OpenLine, list: ReturnType<Ledger['of']>): void {
    const now = performance.now();
    for (const held of list) {
      const left = held.releases.filter((signal) => delivery.release(line, signal, now));
      if (left.length === held.releases.length) ledger.released(held);
    }
  }

  const known = (line: OpenLine): void => release(line, ledger.of(line.id));

  return {
    known,
    owed(one) {
      for (const line of one ? [one] : lines().bySlot) if (line) release(line, ledger.owed(line.id));
    },
    all(show) {
      const now = performance.now();
      const could = couldSound(show);
      const told: number[] = [];
      for (const line of lines().bySlot) {
        if (!line || line.row.muted) continue;
        known(line);
        for (const signal of could.get(line.id) ?? []) delivery.release(line, signal, now);
        if (could.has(line.id)) told.push(line.slot);
      }
      return told;
    },
  };
}
