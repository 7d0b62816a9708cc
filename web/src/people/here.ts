/** Who else is here, for components. */
import { useEffect } from 'react';
import { matchPath } from 'react-router';
import { rowName } from '@tawny-signal/core/compare/row-name';
import type { Show } from '@tawny-signal/core/show';
import { TABLE_NAMES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import type { HereNow } from '../live/here-now';
import { useLive, useLiveValue } from '../live/live';
import { PAGE_WORDS } from '../shell/page-words';

/** The pages that are at the same place, this one too; everybody while something lists them. At most a hundred. */
export function useHere(): HereNow {
  return useLiveValue('here', (store) => store.here());
}

/** The pages that are connected everywhere. */
export function useEverybodyHere(): HereNow {
  const { connection } = useLive();
  useEffect(() => connection.listHere(), [connection]);
  return useHere();
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
