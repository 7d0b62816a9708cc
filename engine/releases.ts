/** Releases what the ledger lists as held, and for Panic everything else that the show could hold. */
import { couldSound } from '@tawny-signal/core/could-sound';
import type { Ledger } from '@tawny-signal/core/ledger';
import type { Show } from '@tawny-signal/core/show';
import type { Delivery } from './delivery.js';
import type { Lines, OpenLine } from './lines.js';

export interface Releases {
  /** Releases everything that the ledger lists for a line. */
  known(line: OpenLine): void;
  /** Releases what could not be released earlier, on one line or on all lines. */
  owed(line?: OpenLine): void;
  /** What `owed` will set the slots of a line to: slots, each with its level. */
  owedSlots(lineId: string): [slot: number, level: number][];
  /**
   * Releases everything that could sound, whether or not it is known to. Part of Panic.
   * @returns the indexes of the lines whose lamps this may have switched off
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
      for (const line of one ? [one] : lines().byIndex) if (line) release(line, ledger.owed(line.id));
    },
    owedSlots: (lineId) =>
      ledger
        .owed(lineId)
        .flatMap(({ releases }) => releases)
        .flatMap((signal): [number, number][] =>
          signal.kind === 'slot' ? [[signal.slot, signal.level]] : [],
        ),
    all(show) {
      const now = performance.now();
      const could = couldSound(show);
      const told: number[] = [];
      for (const line of lines().byIndex) {
        if (!line || line.row.muted) continue;
        known(line);
        for (const signal of could.get(line.id) ?? []) delivery.release(line, signal, now);
        if (could.has(line.id)) told.push(line.index);
      }
      return told;
    },
  };
}
