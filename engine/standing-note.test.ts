/** What stood by is known to the engine after one that died. Without a source: the rule is ours. */
import { expect, test } from '@jest/globals';
import { AT_THE_END, type OrderState } from '@tawny-signal/core/cues/order';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry } from './ledger-pipe.js';
import { createStandingNote, withStandingNote } from './standing-note.js';
import { ORIGIN } from './origin.js';

const order = (standingBy: string | null, called: OrderState['called']): OrderState =>
  ({ standingBy, called }) as OrderState;
const kept = (showId: string): KeptLive => ({ showId, standingBy: 'first', called: null }) as KeptLive;

test('a call is noted once, before it is kept, and brings what was kept up to it', () => {
  const notes: LedgerEntry[] = [];
  let now = order('first', null);
  const note = createStandingNote(
    () => now,
    () => 'pier',
    (line, key, value) => void notes.push([line, key, [value ?? '']]),
  );
  note.look();
  now = order('second', { id: 'first', at: 250 });
  note.look();
  note.look();
  expect(notes).toHaveLength(2);
  const held: LedgerEntry = ['bells', '0 60', ['803c40']];
  const after = withStandingNote([held, notes[1]!], kept('pier'));
  expect(after.owed).toEqual([held]);
  expect(after.live).toMatchObject({
    standingBy: 'second',
    called: { id: 'first', at: ORIGIN + 250 },
  });
  now = order(null, { id: 'second', at: 900 });
  note.look();
  expect(withStandingNote([notes[2]!], kept('pier')).live?.standingBy).toBe(AT_THE_END);
});

test('a note of another show, or where nothing is kept, changes nothing', () => {
  const entry: LedgerEntry = [
    '',
    'standing by',
    [JSON.stringify({ showId: 'pier', standingBy: 'x', called: null })],
  ];
  expect(withStandingNote([entry], kept('harbour'))).toEqual({ owed: [], live: kept('harbour') });
  expect(withStandingNote([entry], null)).toEqual({ owed: [], live: null });
  expect(withStandingNote([], kept('pier')).live).toEqual(kept('pier'));
});
