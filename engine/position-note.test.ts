import { describe, expect, test } from '@jest/globals';
import { createEngine } from '@tawny-signal/core/engine';
import type { PositionBefore } from '@tawny-signal/core/time/kept-position';
import { transportOf } from '@tawny-signal/core/time/transport';
import type { KeptLive } from './kept-state.js';
import type { LedgerEntry } from './ledger-pipe.js';
import { createPositionNote, withPositionNote } from './position-note.js';

const SHOW = 'the pier';
const held: LedgerEntry = ['bells', '0 60', ['803c40']];
const noteOf = (text: string): LedgerEntry => ['', 'position', [text]];

/** An engine whose position plays from 5 s on, with what it has noted. */
function playing(showId: string | null = SHOW) {
  const engine = createEngine();
  const noted: string[] = [];
  const note = createPositionNote(
    engine.position,
    () => showId,
    (_line, _key, text) => noted.push(text),
  );
  const now = performance.now();
  engine.take({ t: 'position', act: { do: 'playFrom', ms: 5000 } }, now);
  note.look();
  return { engine, note, noted, now };
}

const kept = (showId: string): KeptLive => {
  const engine = createEngine();
  return { showId, transport: transportOf(engine.tempo, engine.position, 0, 0) } as KeptLive;
};

describe('the note of the position', () => {
  test('is written once for each change, and again while it runs', () => {
    const { engine, note, noted, now } = playing();
    note.look();
    expect(noted).toHaveLength(1);
    note.again();
    expect(noted).toHaveLength(2);
    engine.take({ t: 'position', act: { do: 'stop' } }, now + 1000);
    note.look();
    note.look();
    note.again();
    expect(noted).toHaveLength(3);
    const { position } = JSON.parse(noted[2]!) as { position: PositionBefore };
    expect(position.motion.speed).toBe(0);
    expect(position.motion.ms).toBeCloseTo(6000, 6);
  });

  test('is not written before there is a show', () => {
    expect(playing(null).noted).toEqual([]);
  });

  test('says where the position is, in place of what was kept before it', () => {
    const [text] = playing().noted;
    const after = withPositionNote([held, noteOf(text!)], kept(SHOW));
    expect(after.owed).toEqual([held]);
    expect(after.live?.transport.position).toMatchObject({ motion: { speed: 1 }, ownSpeed: 1 });
    expect(after.live?.transport.position.motion.ms).toBeGreaterThanOrEqual(5000);
    expect(after.live?.transport.position.calledTo).toBeCloseTo(5000, 3);
  });

  test('of another show, or one that makes no sense, is ignored', () => {
    const [text] = playing('another show').noted;
    const live = kept(SHOW);
    for (const entry of [noteOf(text!), noteOf('{}')])
      expect(withPositionNote([entry, held], live)).toEqual({ owed: [held], live });
    expect(withPositionNote([held], null)).toEqual({ owed: [held], live: null });
  });
});
