/** What sounds, and what releases it. Our own rules, so the checks name no source but the messages: a note on is released by the note off (MIDI 1.0). */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { createLedger, type Ledger } from './ledger.js';
import type { Signal } from './signal.js';

let ledger: Ledger;
/** What the copy that outlives the engine has, as line and key. */
let copy: Set<string>;

beforeEach(() => {
  copy = new Set();
  ledger = createLedger({
    put: ({ lineId, key }) => copy.add(`${lineId} ${key}`),
    remove: (lineId, key) => copy.delete(`${lineId} ${key}`),
  });
});

const on = (number: number, value = 100): Signal => ({ kind: 'noteOn', channel: 2, number, value });
const off = (number: number): Signal => ({ kind: 'noteOff', channel: 2, number, value: 0 });
const keysOf = (lineId: string): string[] => ledger.of(lineId).map(({ key }) => key);

describe('the ledger', () => {
  test('lists the notes that are down on a line as they were pressed last, the longest held first', () => {
    expect(ledger.left('laser', on(28, 90), 10)).toBe(true);
    expect(ledger.left('laser', on(30), 5)).toBe(true);
    expect(ledger.left('bells', on(60), 7)).toBe(true);
    expect(ledger.notesOf('laser').map(({ number, since }) => [number, since])).toEqual([
      [30, 5],
      [28, 10],
    ]);
    // Pressed again: it sounds on, with another force.
    expect(ledger.left('laser', on(28, 20), 30)).toBe(true);
    expect(ledger.notesOf('laser').at(-1)).toEqual({ channel: 2, number: 28, velocity: 20, since: 30 });
    expect(ledger.left('laser', off(28), 40)).toBe(true);
    expect(ledger.left('laser', off(28), 41)).toBe(false);
    expect(ledger.notesOf('laser').map(({ number }) => number)).toEqual([30]);
    expect([...copy]).toEqual(['laser note 2 30', 'bells note 2 60']);
  });

  test('has keys and what mappings hold too, which are no notes', () => {
    const key = { kind: 'key', code: 'KeyA' } as const;
    expect(ledger.left('stream', { ...key, down: true }, 0)).toBe(false);
    const slot: Signal = { kind: 'slot', slot: 4, level: 0 };
    ledger.holds('hold strobe 0', [{ lineId: 'rig', signal: slot }]);
    expect([keysOf('stream'), keysOf('rig'), ledger.notesOf('stream')]).toEqual([
      ['key KeyA'],
      ['hold strobe 0'],
      [],
    ]);
    expect(ledger.of('rig')[0]!.releases).toEqual([slot]);
    expect(ledger.left('stream', { ...key, down: false }, 1)).toBe(false);
    ledger.holds('hold strobe 0', []);
    expect([keysOf('stream'), keysOf('rig'), copy.size]).toEqual([[], [], 0]);
  });

  test('keeps what could not be released, until it was', () => {
    ledger.left('laser', on(28), 0);
    ledger.missed('laser', off(28));
    expect(ledger.owed('laser').map(({ key }) => key)).toEqual(['note 2 28']);
    expect(ledger.notesOf('laser')).toHaveLength(1);
    // What could not be sent at all is not owed.
    ledger.missed('laser', off(29));
    expect(ledger.owed('laser')).toHaveLength(1);
    ledger.released(ledger.owed('laser')[0]!);
    expect([keysOf('laser'), copy.size]).toEqual([[], 0]);
  });

  test('owes what a mapping stopped to hold while its line was down', () => {
    const low = { lineId: 'rig', signal: { kind: 'slot', slot: 4, level: 0 } as Signal };
    ledger.holds('hold strobe 0', [low]);
    ledger.missed('rig', low.signal);
    ledger.holds('hold strobe 0', []);
    expect(ledger.owed('rig')).toHaveLength(1);
    ledger.settle();
    ledger.holds('hold strobe 0', []);
    expect(keysOf('rig')).toEqual([]);
  });

  test('owes what an engine before this one held, and takes 4,096 things a line', () => {
    ledger.owe({ lineId: 'laser', key: 'note 2 28', releases: [off(28)] });
    expect(ledger.notesOf('laser')).toEqual([]);
    expect(ledger.owed('laser')).toHaveLength(1);
    // Pressed by this engine: it is a note of ours again, which nobody owes.
    ledger.left('laser', on(28), 3);
    expect([ledger.owed('laser'), ledger.notesOf('laser').length]).toEqual([[], 1]);
    for (let at = 0; at < 5000; at++) ledger.owe({ lineId: 'rig', key: `hold ${at}`, releases: [] });
    expect(ledger.of('rig')).toHaveLength(4096);
    ledger.holds('one more', [{ lineId: 'rig', signal: off(1) }]);
    expect(ledger.of('rig')).toHaveLength(4096);
  });
});
