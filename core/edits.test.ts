import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyOps, inverseOf, undoState, type EditMark, type Op, type PlacedShow } from './edits.js';
import { makeMoment, type Moment } from './show/moment.js';
import { emptyShow, settingsSchema } from './show.js';
import type { Bank } from './show/bank.js';

const bank = (id: string, name = id): Bank => ({ id, name, on: true, group: '' });
const empty: PlacedShow = { show: emptyShow('The Lantern Pier'), position: {} };

test('rows stand in the order of their positions', () => {
  const { show } = applyOps(empty, [
    { op: 'put', table: 'banks', row: bank('house'), position: 2 },
    { op: 'put', table: 'banks', row: bank('lamp'), position: 3 },
    { op: 'put', table: 'banks', row: bank('storm'), position: 2.5 },
    { op: 'put', table: 'banks', row: bank('slack'), position: 1 },
  ]);
  expect(show.banks.map(({ id }) => id)).toEqual(['slack', 'house', 'storm', 'lamp']);
});

test('a bank and a moment with the same id keep places of their own', () => {
  const moment = (id: string): Moment => makeMoment({ id, cue: '1', name: id, sends: [] });
  const placed = applyOps(empty, [
    { op: 'put', table: 'banks', row: bank('house'), position: 1 },
    { op: 'put', table: 'banks', row: bank('storm'), position: 2 },
    { op: 'put', table: 'moments', row: moment('lamp'), position: 5 },
    { op: 'put', table: 'moments', row: moment('storm'), position: 1 },
  ]);
  const moved: Op[] = [{ op: 'put', table: 'moments', row: moment('storm'), position: 9 }];
  const after = applyOps(placed, [
    ...moved,
    { op: 'put', table: 'banks', row: bank('gulls'), position: 1.5 },
  ]);
  expect(after.show.banks.map(({ id }) => id)).toEqual(['house', 'gulls', 'storm']);
  expect(after.show.moments.map(({ id }) => id)).toEqual(['lamp', 'storm']);
  expect(applyOps(applyOps(placed, moved), inverseOf(placed, moved))).toEqual(placed);
});

// More ids than an edit of either kind has ops: few ops are applied one by one, many to whole tables.
const ids = fc.constantFrom(...'abcdefghijklmnopqrst');
const ops = fc.array(
  fc.oneof(
    fc
      .record({
        id: ids,
        name: fc.string({ minLength: 1, maxLength: 5 }),
        position: fc.integer({ min: 1, max: 1000 }),
      })
      .map(({ id, name, position }): Op => ({
        op: 'put',
        table: 'banks',
        row: bank(id, name),
        position: position + id.charCodeAt(0) / 1000,
      })),
    ids.map((id): Op => ({ op: 'remove', table: 'banks', id })),
    fc.constantFrom(3, 4, 5).map((middleC): Op => ({
      op: 'settings',
      settings: settingsSchema.parse({ name: 'x', middleC }),
    })),
  ),
  { maxLength: 40, size: 'max' },
);

test('the inverse of any edit brings back exactly what was there', () => {
  fc.assert(
    fc.property(ops, ops, (first, second) => {
      const before = applyOps(empty, first);
      const after = applyOps(before, second);
      expect(applyOps(after, inverseOf(before, second))).toEqual(before);
    }),
  );
});

test('an edit of many ops does what its ops do one after another', () => {
  fc.assert(
    fc.property(ops, ops, (first, second) => {
      const before = applyOps(empty, first);
      const oneByOne = second.reduce((placed, op) => applyOps(placed, [op]), before);
      expect(applyOps(before, second)).toEqual(oneByOne);
    }),
  );
});

test('undo goes back through what was done, redo forward, and a new edit ends redo', () => {
  const marks: EditMark[] = [];
  const add = (kind: EditMark['kind'], of: number | null = null): void => {
    marks.push({ id: marks.length + 1, kind, of });
  };
  expect(undoState(marks)).toEqual({ undo: null, redo: null });
  add('do');
  add('do');
  expect(undoState(marks)).toEqual({ undo: 2, redo: null });
  add('undo', 2);
  expect(undoState(marks)).toEqual({ undo: 1, redo: 2 });
  add('undo', 1);
  expect(undoState(marks)).toEqual({ undo: null, redo: 1 });
  add('redo', 1);
  expect(undoState(marks)).toEqual({ undo: 1, redo: 2 });
  add('do');
  expect(undoState(marks)).toEqual({ undo: 6, redo: null });
});
