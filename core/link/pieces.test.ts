/** A show in pieces on the link. No source: our own format. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { placeKey, type PlacedShow } from '../edits.js';
import { anyNote } from '../engine.test-helper.js';
import { newMapping } from '../mapping/defaults.js';
import { emptyShow } from '../show.js';
import type { ToEngine } from './messages.js';
import { createPieces, inPieces } from './pieces.js';

function placedOf(mappings: number, banks: number): PlacedShow {
  const show = {
    ...emptyShow('The Lantern Pier'),
    mappings: Array.from({ length: mappings }, (_, at) => newMapping(`m${at}`, anyNote('pressed'), null)),
    banks: Array.from({ length: banks }, (_, at) => ({
      id: `b${at}`,
      name: 'Tide',
      on: at % 3 === 0,
      group: '',
    })),
  };
  const position = Object.fromEntries([
    ...show.mappings.map(({ id }, at) => [placeKey('mappings', id), at * 3]),
    ...show.banks.map(({ id }, at) => [placeKey('banks', id), at + 0.5]),
  ]) as PlacedShow['position'];
  return { show, position };
}

const messageOf = (placed: PlacedShow): Extract<ToEngine, { t: 'show' }> => ({
  t: 'show',
  mark: { showId: 'pier', rev: 3 },
  placed,
  before: null,
});

/** What arrives of something that was sent as JSON. */
const sent = <T>(what: T): T => JSON.parse(JSON.stringify(what)) as T;

test('a show is whole again after its pieces, whatever came before them', () => {
  fc.assert(
    fc.property(fc.nat(160), fc.nat(60), fc.nat(4), (mappings, banks, lost) => {
      const placed = placedOf(mappings, banks);
      const reader = createPieces();
      const tell = (all: readonly ToEngine[]): PlacedShow | null => {
        for (const one of all.map(sent)) {
          if (one.t === 'rows') reader.add(one);
          if (one.t === 'show') return reader.whole(one);
        }
        return null;
      };
      expect(tell(inPieces(messageOf(placedOf(160, 2))).slice(0, lost))).toBeNull();
      const all = inPieces(messageOf(placed));
      expect(all.length > 1).toBe(mappings > 50 || banks > 50);
      expect(tell(all)).toEqual(placed);
    }),
    { numRuns: 40 },
  );
});

test('a show of which a piece is missing is none', () => {
  const all = inPieces(messageOf(placedOf(160, 2))).map(sent);
  for (let missing = 0; missing < all.length - 1; missing++) {
    const reader = createPieces();
    for (const one of all.toSpliced(missing, 1)) {
      if (one.t === 'rows') reader.add(one);
      if (one.t === 'show') expect(reader.whole(one)).toBeNull();
    }
  }
});

test('a MIDI file is a piece of its own, since it is long', () => {
  const placed = placedOf(3, 3);
  const midiFiles = ['bells', 'storm'].map((id) => ({ id, name: id, data: '' }));
  const all = inPieces(messageOf({ ...placed, show: { ...placed.show, midiFiles } }));
  expect(all.map((one) => (one.t === 'rows' ? [one.table, one.rows.length] : one.t))).toEqual([
    ['midiFiles', 1],
    ['midiFiles', 1],
    'show',
  ]);
});

test('no piece has more than 50 rows, and the show has none of theirs', () => {
  const all = inPieces(messageOf(placedOf(120, 3)));
  expect(all.map((one) => (one.t === 'rows' ? [one.table, one.rows.length] : one.t))).toEqual([
    ['mappings', 50],
    ['mappings', 50],
    ['mappings', 20],
    'show',
  ]);
  const last = all.at(-1) as ReturnType<typeof messageOf>;
  expect(last.placed.show.mappings).toEqual([]);
  expect(Object.keys(last.placed.position)).toHaveLength(3);
});
