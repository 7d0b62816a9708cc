/** Who else is here, for components. */
import { matchPath } from 'react-router';
import type { HereSeen } from '@tawny-signal/core/people/here';
import { rowName } from '@tawny-signal/core/compare/row-name';
import type { Show } from '@tawny-signal/core/show';
import { TABLE_NAMES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import { useLiveValue } from '../live/live';
import { PAGE_WORDS } from '../shell/page-words';

/** All pages that are connected, this one too, by the names of their people. */
export function useHere(): { all: readonly HereSeen[]; me: number | null } {
  return useLiveValue('here', (store) => store.here());
}

/** Where a page is, in words: `Mappings: Storm go`. */
export function whereWords(show: Show, path: string): string {
  for (const [pattern, words] of Object.entries(PAGE_WORDS)) {
    const match = matchPath(`/${pattern}`, path);
    if (!match) continue;
    const ids = Object.values(match.params);
    const rows: RowOf[TableName][] = TABLE_NAMES.flatMap((table): RowOf[TableName][] => show[table]);
    const row = rows.find(({ id }) => ids.includes(id));
    return row ? `${words}: ${rowName(show, row)}` : words;
  }
  return 'another page';
}
