/** What of mine somebody else has changed after me. No source: our own rule. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Op } from '../edits.js';
import type { RowOf } from '../show/tables.js';
import { createMyChanges, putBack, type MyChanges } from './overwritten.js';

type Moment = RowOf['moments'];
const row = (change: object): Moment =>
  ({
    id: 'storm',
    name: 'Storm',
    notes: '',
    sends: [{ delayMs: 0, value: 1 }, { delayMs: 0 }],
    ...change,
  }) as never;
const put = (change: object): Op[] => [{ op: 'put', table: 'moments', row: row(change), position: 1 }];

describe('a page that has changed a row', () => {
  let mine: MyChanges;
  const change = (before: object, after: object, now = 0): void =>
    mine.changed('moments', 'storm', row(before), row(after), now);
  const told = (ops: Op[], isMine = false, now = 1): unknown[] =>
    mine.edited(ops, isMine, now).map(({ path }) => path.join('.'));
  beforeEach(() => {
    mine = createMyChanges();
  });

  test('is told once of the same member, and of no other', () => {
    change({}, { name: 'Storm rises' });
    expect(told(put({ name: 'Storm rises', notes: 'slow' }))).toEqual([]);
    expect(told(put({ name: 'Gale' }))).toEqual(['name']);
    expect(told(put({ name: 'Breeze' }))).toEqual([]);
  });

  test('of the one send in a list, and not of its neighbour', () => {
    change({}, { sends: [{ delayMs: 500, value: 1 }, { delayMs: 0 }] });
    expect(told(put({ sends: [{ delayMs: 500, value: 1 }, { delayMs: 70 }] }))).toEqual([]);
    const found = mine.edited(put({ sends: [{ delayMs: 200, value: 1 }, { delayMs: 70 }] }), false, 1);
    expect(found).toMatchObject([{ path: ['sends', 0, 'delayMs'], mine: 500 }]);
    // Putting mine back keeps what else was changed.
    expect(putBack(found[0]!)).toEqual({ sends: [{ delayMs: 500, value: 1 }, { delayMs: 70 }] });
  });

  test('of a list that became shorter as a whole', () => {
    change({}, { sends: [{ delayMs: 0, value: 1 }] });
    expect(told(put({ sends: [] }))).toEqual(['sends']);
  });

  test('not of its own later changes, its own undo, or a row that is gone', () => {
    change({}, { name: 'Gale' });
    expect(told(put({ name: 'Storm' }), true)).toEqual([]);
    expect(told(put({ name: 'Breeze' }))).toEqual([]);
    change({}, { name: 'Gale' });
    change({ name: 'Gale' }, { name: 'Calm' });
    expect(told(put({ name: 'Calm' }))).toEqual([]);
    expect(told([{ op: 'remove', table: 'moments', id: 'storm' }])).toEqual([]);
    expect(told(put({ name: 'Breeze' }))).toEqual([]);
  });

  test('for ten minutes, and of the last 200 changes', () => {
    change({}, { name: 'Gale' });
    expect(told(put({ name: 'Breeze' }), false, 600_000)).toEqual([]);
    change({}, { name: 'Gale' });
    for (let at = 0; at < 200; at++) mine.changed('moments', `m${at}`, row({}), row({ notes: `${at}` }), 0);
    expect(told(put({ name: 'Breeze' }))).toEqual([]);
  });

  test('of the settings too', () => {
    mine.changed('settings', 'settings', { name: 'Pier' }, { name: 'Pier 2' }, 0);
    const ops = [{ op: 'settings', settings: { name: 'Harbour' } }] as never;
    expect(mine.edited(ops, false, 1)).toMatchObject([{ table: 'settings', path: ['name'], mine: 'Pier 2' }]);
  });
});
