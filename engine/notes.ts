/** What an engine leaves to the one after it through the launcher, beside what sounds: which presses were done, what stands by, and what timecode has called. */
import type { Engine } from '@tawny-signal/core/engine';
import { createCalledNote } from './called-note.js';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';
import { createStandingNote, withStandingNote } from './standing-note.js';
import type { Pressed } from './pressed.js';

export interface Notes {
  /** Called after each input, before its output is sent. */
  look(): void;
  /** Takes over what was left. */
  begin(left: readonly LedgerEntry[], kept: KeptLive | null): Left;
}

export interface Left {
  /** The entries that are still owed. */
  owed: readonly LedgerEntry[];
  /** What was kept, brought up to the notes; null for nothing. */
  live: KeptLive | null;
}

/** @param showId of the show that is played; null for none */
export function createNotes(
  engine: Engine,
  showId: () => string | null,
  pressed: Pressed,
  ledger: Pick<LedgerPipe, 'note'>,
): Notes {
  const note: LedgerPipe['note'] = (...noted) => ledger.note(...noted);
  const called = createCalledNote(engine.position, note);
  const standing = createStandingNote(() => engine.orderState(), showId, note);
  return {
    look() {
      called.look();
      standing.look();
    },
    begin: (left, kept) => withStandingNote(pressed.begin(left), kept),
  };
}
