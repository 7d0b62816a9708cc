import { describe, expect, test } from '@jest/globals';
import { loaded, mapping, PADS, press, release, RIG, said, show } from '../engine.test-helper.js';
import { mappingSchema, type Mapping } from '../show/mapping.js';
import { changeovers, spread, type Spread, type SpreadRow } from './spread.js';

function rows(given: Spread, mappings: Mapping[] = []): SpreadRow[] {
  const made = spread(show(mappings), given);
  if (!made.ok) throw new Error(made.reason);
  return made.rows;
}
const reason = (given: Spread): string => {
  const made = spread(show([]), given);
  return made.ok ? '' : made.reason;
};
const engineOf = (list: SpreadRow[]) =>
  loaded(list.map(({ mapping: one }, at) => ({ ...one, id: `m${at}` })));

const octave: Spread = {
  from: { sort: 'notes', lineId: 'pads', channel: 9, numbers: [41, 43] },
  to: { sort: 'keys', lineId: 'stream', codes: ['KeyQ', 'KeyW', 'KeyE'] },
  held: true,
};

describe('a range spread over a range', () => {
  test('of notes over keys holds each key as long as its note', () => {
    expect(changeovers(rows(octave))).toEqual([]);
    const engine = engineOf(rows(octave));
    expect(said(engine.step(PADS, press(42), 0))).toEqual(['key W down']);
    expect(said(engine.step(PADS, press(43), 1))).toEqual(['key E down']);
    expect(said(engine.step(PADS, release(42), 2))).toEqual(['key W up']);
  });

  test('of slots over notes goes on at the next channel after the 128th pitch', () => {
    const list = rows({
      from: { sort: 'slots', lineId: 'rig', numbers: [1, 512] },
      to: { sort: 'notes', lineId: 'laser', channel: 5, first: 100 },
      held: false,
    });
    expect(list).toHaveLength(512);
    expect(changeovers(list)).toEqual([
      { at: 28, words: 'channel 7 from here' },
      { at: 156, words: 'channel 8 from here' },
      { at: 284, words: 'channel 9 from here' },
      { at: 412, words: 'channel 10 from here' },
    ]);
    const engine = engineOf(list);
    const slot = (number: number): string[] =>
      said(engine.step(RIG, { kind: 'slot', slot: number, level: 255 }, number));
    expect(slot(28)).toEqual(['note 127 (G9) ch 6 pressed, force 127']);
    expect(slot(29)).toEqual(['note 0 (C-1) ch 7 pressed, force 127']);
    expect(slot(512)).toEqual(['note 99 (D#7) ch 10 pressed, force 127']);
    // A slot that comes down releases its note.
    expect(said(engine.step(RIG, { kind: 'slot', slot: 28, level: 0 }, 999))).toEqual([
      'note 127 (G9) ch 6 released',
    ]);
  });

  test('of pads over addresses counts on where it is told to begin', () => {
    const list = rows({
      from: { sort: 'notes', lineId: 'pads', channel: 9, numbers: [36, 38] },
      to: { sort: 'osc', lineId: 'water', address: '/clip/{n}', first: 1 },
      held: false,
    });
    expect(list.map(({ heard, sent }) => `${heard}: ${sent}`)).toEqual([
      'Note 36 pressed: /clip/1',
      'Note 37 pressed: /clip/2',
      'Note 38 pressed: /clip/3',
    ]);
  });

  test('makes mappings that can be kept', () => {
    for (const { mapping: one } of rows(octave))
      expect(mappingSchema.safeParse({ ...one, id: 'm' }).success).toBe(true);
  });
});

test('what gets in the way of something is marked, each with what it is', () => {
  const there = [
    { ...mapping('storm', { numbers: [36, 36], channels: [9, 9] }), name: 'Storm' },
    { ...mapping('clip', { message: 'control' }), name: 'Clip' },
  ];
  there[1]!.sends[0].address = '/clip/2';
  const list = rows(
    {
      from: { sort: 'notes', lineId: 'pads', channel: 9, numbers: [36, 38] },
      to: { sort: 'osc', lineId: 'water', address: '/clip/{n}', first: 1 },
      held: false,
    },
    there,
  );
  expect(list.map(({ collides }) => collides)).toEqual([
    ['Storm hears this too'],
    ['Clip sends that too'],
    [],
  ]);
  const faders = rows(
    {
      from: { sort: 'controls', lineId: 'score', channel: 0, numbers: [1, 2] },
      to: { sort: 'notes', lineId: 'pads', channel: 9, first: 36 },
      held: false,
    },
    there,
  );
  expect(faders.map(({ collides }) => collides)).toEqual([['the note is Storm’s own'], []]);
});

test.each<[Partial<Spread>, string]>([
  [{ to: { sort: 'keys', lineId: 'stream', codes: ['KeyQ'] } }, '3 controls want 3 keys; 1 are chosen.'],
  [
    { to: { sort: 'slots', lineId: 'rig', first: 511 } },
    'There is room for 2 of the 3: begin lower, or take fewer.',
  ],
  [{ to: { sort: 'notes', lineId: 'laser', channel: 15, first: 126 } }, 'There is room for 2 of the 3'],
  [{ to: { sort: 'osc', lineId: 'water', address: '/clip', first: 1 } }, 'Write {n} where the number goes'],
])('ranges that do not fit are refused in words: %j', (given, words) => {
  expect(reason({ ...octave, ...given })).toContain(words);
});
