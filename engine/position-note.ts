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
import { ORIGIN } from './origin.js';

/** The line and the key of the note: no line has an empty id. */
const LINE = '';
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
  position: Pick<PositionView, 'calledTo' | 'state' | 'motion' | 'kept'>,
  showId: () => string | null,
  note: LedgerPipe['note'],
): PositionNote {
  let state = position.state();
  let called = position.calledTo();

  function write(): void {
    state = position.state();
    called = position.calledTo();
    const show = showId();
    if (show === null) return;
    const noted: Noted = { showId: show, position: keptPosition(position, performance.now(), ORIGIN) };
    note(LINE, KEY, JSON.stringify(noted));
  }

  return {
    look() {
      if (position.state() !== state || position.calledTo() !== called) write();
    },
    again() {
      if (position.motion().speed !== 0) write();
    },
  };
}

/** Takes the note out of what an earlier engine left. @returns the entries without it, and what was kept, brought up to the note */
export function withPositionNote(
  owed: readonly LedgerEntry[],
  live: KeptLive | null,
): { owed: readonly LedgerEntry[]; live: KeptLive | null } {
  const entry = owed.find(([line, key]) => line === LINE && key === KEY);
  if (!entry) return { owed, live };
  const rest = owed.filter((one) => one !== entry);
  const { showId, position } = JSON.parse(entry[2]?.[0] ?? '{}') as Partial<Noted>;
  // A note of another show says nothing of this one.
  if (!live || !position || live.showId !== showId) return { owed: rest, live };
  const { transport } = live;
  return {
    owed: rest,
    live: { ...live, transport: { ...transport, position: { ...transport.position, ...position } } },
  };
}
