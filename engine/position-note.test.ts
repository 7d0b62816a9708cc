import { describe, expect, test } from '@jest/globals';
import { createEngine } from '@tawny-signal/core/engine';
import { transportOf } from '@tawny-signal/core/time/transport';
import { createCalledNote, withCalledNote } from './called-note.js';
import type { LedgerEntry } from './ledger-pipe.js';

const KEPT_AT = 1_000_000;
const engine = createEngine();
const transport = transportOf(engine.tempo, engine.position, 0, KEPT_AT);
const note = (ms: number, at: number): LedgerEntry => [
  '',
  'called by timecode',
  [JSON.stringify({ ms, at })],
];
const held: LedgerEntry = ['bells', '0 60', ['803c40']];

describe('the note of what was called', () => {
  test('is written once for each call', () => {
    const notes: string[] = [];
    let called: { ms: number; at: number } | null = null;
    const watch = createCalledNote({ calledTo: () => called }, (...said) => notes.push(said.join('|')));
    watch.look();
    called = { ms: 5000, at: 10 };
    watch.look();
    watch.look();
    expect(notes).toHaveLength(1);
    expect(notes[0]).toContain('"ms":5000');
  });

  test('that is newer than what was kept says up to where moments were called', () => {
    const after = withCalledNote([held, note(5000, KEPT_AT + 20)], transport);
    expect(after.owed).toEqual([held]);
    expect(after.transport?.position.calledTo).toBe(5000);
  });

  test('from before is of another run, and one that makes no sense is ignored', () => {
    for (const entry of [note(5000, KEPT_AT - 20), ['', 'called by timecode', ['{}']] as LedgerEntry]) {
      const after = withCalledNote([entry, held], transport);
      expect([after.owed, after.transport]).toEqual([[held], transport]);
    }
    expect(withCalledNote([held], null)).toEqual({ owed: [held], transport: null });
  });
});
