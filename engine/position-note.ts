/**
 * Notes where the position is and up to where it has called moments, with the ledger that the launcher keeps: before anything is sent, so that an engine
 * that dies in the next instant leaves the note to the one after it, which calls nothing twice and leaves nothing out. The file for a restart is written
 * later, and not at all by an engine that dies as soon as it has begun.
 */
import type { PositionView } from '@tawny-signal/core/engine/parts/position';
import type { PositionBefore } from '@tawny-signal/core/time/kept-position';
import { keptPosition } from '@tawny-signal/core/time/transport';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';
import { takeNote, writeNote, type Left } from './note.js';
import { ORIGIN } from './origin.js';

const KEY = 'position';

/** Its times are in milliseconds since 1970. */
interface Noted {
  showId: string;
  position: PositionBefore;
}

export interface PositionNote {
  /** Called after each input, before its output is sent. */
  look(): void;
  /** Called now and then: a position that runs is noted again, so that the note says until when somebody played. */
  again(): void;
}

/** @param showId of the show that is played; null for none */
export function createPositionNote(
  position: Pick<PositionView, 'timesDue' | 'state' | 'motion' | 'kept'>,
  showId: () => string | null,
  note: LedgerPipe['note'],
): PositionNote {
  let state = position.state();
  let timesDue = position.timesDue();

  function write(): void {
    state = position.state();
    timesDue = position.timesDue();
    const show = showId();
    if (show === null) return;
    const kept = keptPosition(position, performance.now(), ORIGIN);
    writeNote(note, KEY, { showId: show, position: kept } satisfies Noted);
  }

  return {
    look() {
      if (position.state() !== state || position.timesDue() !== timesDue) write();
    },
    again() {
      if (position.motion().speed !== 0) write();
    },
  };
}

/** Takes the note out of what an earlier engine left. @returns the entries without it, and what was kept, brought up to the note */
export function withPositionNote(all: readonly LedgerEntry[], live: KeptLive | null): Left {
  const { owed, noted } = takeNote<Noted>(all, KEY);
  // A note of another show says nothing of this one.
  if (!live || !noted?.position || live.showId !== noted.showId) return { owed, live };
  const { transport } = live;
  const position = { ...transport.position, ...noted.position };
  return { owed, live: { ...live, transport: { ...transport, position } } };
}
