/** The list of shows and the versions of the open one, for components. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { RowDifference } from '@tawny-signal/core/compare/rows';
import { count } from '@tawny-signal/core/plural';
import { TABLE_NAMES, TABLES, type TableName } from '@tawny-signal/core/show/tables';
import { notify } from '../ui/notice';
import { call } from './api';
import { useEdit } from './show';
import { SHOW, SHOWS, VERSIONS } from './show-cache';

export type RowCounts = Record<TableName, number>;

export interface ListedShow {
  id: string;
  name: string;
  rows: RowCounts;
  /** Times in ISO 8601; null for never. */
  createdAt: string;
  changedAt: string | null;
  playedAt: string | null;
  archivedAt: string | null;
}

export interface ListedVersion {
  id: string;
  name: string;
  at: string;
}

/** The name that stands for the show as it is now, where versions are compared. */
export const NOW = 'now';

export interface Comparison {
  before: { id: string; name: string; at: string | null };
  after: { id: string; name: string; at: string | null };
  rows: RowDifference[];
  /** How many more rows differ. */
  more: number;
}

/** `24 mappings, 6 moments, 11 lines`; the most telling first. */
export function rowsWords(rows: RowCounts): string {
  const first: TableName[] = ['mappings', 'moments', 'lines'];
  const all = [...first, ...TABLE_NAMES.filter((table) => !first.includes(table))];
  const parts = all
    .filter((table) => rows[table] > 0)
    .map((table) => count(rows[table], TABLES[table].called));
  return parts.join(', ') || 'empty';
}

/** Read anew whenever the page is opened: what is in the shows changes all the time. */
export const useShows = () =>
  useQuery({
    queryKey: SHOWS,
    queryFn: () => call<{ openId: string; shows: ListedShow[] }>('GET', 'shows'),
    staleTime: 0,
  }).data;

export const useVersions = (): ListedVersion[] | undefined =>
  useQuery({
    queryKey: VERSIONS,
    queryFn: () => call<ListedVersion[]>('GET', 'versions'),
    staleTime: 0,
  }).data;

/** @param to the id of another version, or `NOW` */
export const useComparison = (id: string, to: string) =>
  useQuery({
    queryKey: [...VERSIONS, id, to],
    queryFn: () => call<Comparison>('GET', `versions/${id}/compare?to=${to}`),
    staleTime: 0,
    retry: false,
  });

/** An edit of the list of shows or of versions, after which both are read again. */
export function useListEdit<In, Out>(run: (given: In) => Promise<Out>) {
  const queries = useQueryClient();
  return useEdit(async (given: In) => {
    const done = await run(given);
    await Promise.all([SHOWS, VERSIONS].map((queryKey) => queries.invalidateQueries({ queryKey })));
    return done;
  });
}

/** The same where another show is opened by it: returns once it is the one that is shown. */
export function useOpening<In, Out>(run: (given: In) => Promise<Out>) {
  const queries = useQueryClient();
  return useListEdit(async (given: In) => {
    const done = await run(given);
    await queries.invalidateQueries({ queryKey: SHOW });
    return done;
  });
}

/** Opens a show, and offers to go back to the one before it. */
export function useOpenShow() {
  const queries = useQueryClient();
  const open = useOpening(async (id: string) => {
    const before = queries.getQueryData<{ openId: string; shows: ListedShow[] }>(SHOWS);
    const { name } = await call<{ name: string }>('POST', `shows/${id}/open`);
    const last = before?.shows.find((one) => one.id === before.openId);
    notify(
      `Opened ${name}.`,
      last && { act: { words: `Back to ${last.name}`, run: () => open.mutate(last.id) } },
    );
  });
  return open;
}
