/**
 * Notes what stands by and what was called last, with the ledger that the launcher keeps: before anything is sent, and so earlier than the file for a
 * restart, which is written a few times a second. An engine that dies after a call leaves that to the one after it, where the call is not still to come.
 */
import { AT_THE_END, type OrderState } from '@tawny-signal/core/cues/order';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';
import { takeNote, writeNote, type Left } from './note.js';
import { ORIGIN } from './origin.js';

const KEY = 'standing by';

type Noted = Pick<KeptLive, 'showId' | 'standingBy' | 'called'>;

export interface StandingNote {
  /** Called after each input, before its output is sent. */
  look(): void;
}

/** @param showId of the show that is played; null for none */
export function createStandingNote(
  order: () => OrderState,
  showId: () => string | null,
  note: LedgerPipe['note'],
): StandingNote {
  let standing: string | null = null;
  let call: OrderState['called'] = null;
  return {
    look() {
      const { standingBy, called } = order();
      if (standingBy === standing && called === call) return;
      [standing, call] = [standingBy, called];
      const show = showId();
      if (show === null) return;
      const noted: Noted = {
        showId: show,
        standingBy: standingBy ?? (called ? AT_THE_END : null),
        called: called && { ...called, at: ORIGIN + called.at },
      };
      writeNote(note, KEY, noted);
    },
  };
}

/** Takes the note out of what an earlier engine left. @returns the entries without it, and what was kept, brought up to the note */
export function withStandingNote(all: readonly LedgerEntry[], live: KeptLive | null): Left {
  const { owed, noted } = takeNote<Noted>(all, KEY);
  // A note of another show says nothing of this one.
  if (!live || !noted || live.showId !== noted.showId) return { owed, live };
  const { standingBy = null, called = null } = noted;
  return { owed, live: { ...live, standingBy, called } };
}
