/**
 * Notes up to where the position has called moments, with the ledger that the launcher keeps: before anything is sent, so that an engine that dies in the
 * next instant leaves the note to the one after it, which calls nothing twice.
 */
import type { PositionView } from '@tawny-signal/core/engine/parts/position';
import type { Transport } from '@tawny-signal/core/time/transport';
import type { LedgerEntry, LedgerPipe } from './ledger-pipe.js';
import { ORIGIN } from './origin.js';

/** The line and the key of the note: no line has an empty id. */
const LINE = '';
const KEY = 'called by timecode';

export interface CalledNote {
  /** Called after each input, before its output is sent. */
  look(): void;
}

export function createCalledNote(
  position: Pick<PositionView, 'calledTo'>,
  note: LedgerPipe['note'],
): CalledNote {
  let noted = position.calledTo();
  return {
    look() {
      const called = position.calledTo();
      if (called === noted) return;
      noted = called;
      if (called) note(LINE, KEY, JSON.stringify({ ms: called.ms, at: ORIGIN + called.at }));
    },
  };
}

/** Takes the note out of what an earlier engine left. @returns the entries without it, and the transport that was kept, brought up to the note */
export function withCalledNote(
  owed: readonly LedgerEntry[],
  transport: Transport | null,
): { owed: readonly LedgerEntry[]; transport: Transport | null } {
  const entry = owed.find(([line, key]) => line === LINE && key === KEY);
  if (!entry || !transport) return { owed, transport };
  const rest = owed.filter((one) => one !== entry);
  const { ms, at } = JSON.parse(entry[2]?.[0] ?? '{}') as { ms: number; at: number };
  const { motion } = transport.position;
  // A note from before is of another run of the position.
  const isNewer = Number.isFinite(ms) && at >= motion.at;
  if (!isNewer) return { owed: rest, transport };
  return { owed: rest, transport: { ...transport, position: { ...transport.position, calledTo: ms } } };
}
