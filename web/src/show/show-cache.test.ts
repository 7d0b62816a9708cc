import { beforeEach, expect, test } from '@jest/globals';
import { QueryClient } from '@tanstack/react-query';
import type { Op } from '@tawny-signal/core/edits';
import { emptyShow } from '@tawny-signal/core/show';
import { SHOW, takeEdit, type ReadShow } from './show-cache';

let queries: QueryClient;
const op: Op = {
  op: 'put',
  table: 'banks',
  row: { id: 'house', name: 'House', on: true, group: '' },
  position: 1,
};
const known = (): ReadShow => queries.getQueryData<ReadShow>(SHOW)!;
const stale = (): boolean => queries.getQueryState(SHOW)!.isInvalidated;

beforeEach(() => {
  queries = new QueryClient();
  queries.setQueryData<ReadShow>(SHOW, {
    id: 'pier',
    rev: 4,
    show: emptyShow('The Lantern Pier'),
    position: {},
  });
});

test('the next edit is applied to what is known', () => {
  takeEdit(queries, { t: 'edit', showId: 'pier', rev: 5, ops: [op], label: 'Add bank House' });
  expect([known().rev, known().show.banks.map(({ name }) => name), stale()]).toEqual([5, ['House'], false]);
});

test('where an edit was missed, the show is read anew', () => {
  takeEdit(queries, { t: 'edit', showId: 'pier', rev: 6, ops: [op], label: 'Add bank House' });
  expect([known().rev, stale()]).toEqual([4, true]);
});

test('an edit that is known already changes nothing', () => {
  takeEdit(queries, { t: 'edit', showId: 'pier', rev: 4, ops: [op], label: 'Add bank House' });
  expect([known().show.banks, stale()]).toEqual([[], false]);
});

test('an edit without its ops has the show read anew', () => {
  takeEdit(queries, { t: 'edit', showId: 'pier', rev: 5, ops: null, label: 'Check again' });
  expect(stale()).toBe(true);
});

test('the edits of another show are never applied to this one', () => {
  takeEdit(queries, { t: 'edit', showId: 'second night', rev: 5, ops: [op], label: 'Add bank House' });
  expect([known().rev, known().show.banks, stale()]).toEqual([4, [], true]);
});

test('another show that was opened is read, though it has had fewer edits', () => {
  takeEdit(queries, { t: 'edit', showId: 'second night', rev: 1, ops: null, label: 'Opened Second night' });
  expect(stale()).toBe(true);
});
