/** What an engine leaves to the one after it through the launcher, beside what sounds: which presses were done, what stands by, and where the position is. */
import type { Engine } from '@tawny-signal/core/engine';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';
import type { Left } from './note.js';
import { createStandingNote, withStandingNote } from './standing-note.js';
import { createPositionNote, withPositionNote } from './position-note.js';
import type { Pressed } from './pressed.js';

export interface Notes {
  /** Called after each input, before its output is sent. */
  look(): void;
  /** Takes over what was left. @param restore restores it; nothing is noted meanwhile, so that what was left holds until that is done */
  begin(owed: readonly LedgerEntry[], kept: KeptLive | null, restore: (left: Left) => void): void;
  stop(): void;
}

/** How often a position that runs is noted, in ms. */
const AGAIN_MS = 250;

/** @param showId of the show that is played; null for none */
export function createNotes(
  engine: Engine,
  showId: () => string | null,
  pressed: Pressed,
  ledger: Pick<LedgerPipe, 'note'>,
): Notes {
  const note: LedgerPipe['note'] = (...noted) => ledger.note(...noted);
  const position = createPositionNote(engine.position, showId, note);
  const standing = createStandingNote(() => engine.orderState(), showId, note);
  let restoring = false;

  function look(): void {
    if (restoring) return;
    position.look();
    standing.look();
  }

  const again = setInterval(() => !restoring && position.again(), AGAIN_MS);
  return {
    look,
    begin(owed, kept, restore) {
      restoring = true;
      const left = withStandingNote(pressed.begin(owed), kept);
      restore(withPositionNote(left.owed, left.live));
      restoring = false;
      look();
    },
    stop: () => clearInterval(again),
  };
}
