/** Tells somebody that another person has changed what they had just changed, and offers to put theirs back. */
import type { QueryClient } from '@tanstack/react-query';
import { compareShows } from '@tawny-signal/core/compare/rows';
import { createMyChanges, putBack, type Overwritten } from '@tawny-signal/core/people/overwritten';
import type { Show } from '@tawny-signal/core/show';
import { TABLES } from '@tawny-signal/core/show/tables';
import type { ServerEdit } from '../live/connection';
import { PAGE_ID } from '../people/page-id';
import { notify } from '../ui/notice';
import { call } from './api';
import { SHOW, type ReadShow } from './show-cache';

/** What this page has changed. */
export const myChanges = createMyChanges();

/** Notes the answer to a change of this page. */
export function noteChange<Row extends object>(
  table: Overwritten['table'],
  id: string,
  before: Row | undefined,
  after: Row,
): Row {
  myChanges.changed(table, id, before, after, performance.now());
  return after;
}

/** `“delay ms” of Storm from your 500 to 200` */
function words(show: Show, { table, id, mine, now, path }: Overwritten): string {
  const back = putBack({ table, id, path, mine, now });
  const one = (row: object): Show =>
    table === 'settings'
      ? { ...show, settings: row as Show['settings'] }
      : { ...show, [table]: show[table].map((other) => (other.id === id ? row : other)) };
  const found = compareShows(one({ ...now, ...back }), one(now)).find(
    (row) => row.table === table && row.id === id,
  );
  const [member] = found?.members ?? [];
  return member
    ? `“${member.member}” of ${found!.name} from your ${member.before} to ${member.after}`
    : `what you had changed of ${found?.name ?? 'a row'}`;
}

/** To be called with each edit, once the show in the cache has it. */
export function tellOverwritten(queries: QueryClient, { ops, page, by }: ServerEdit): void {
  const found = myChanges.edited(ops ?? [], page === PAGE_ID, performance.now());
  const show = queries.getQueryData<ReadShow>(SHOW)?.show;
  const [first] = found;
  if (!first || !show) return;
  const more = found.length > 1 ? `, and ${found.length - 1} more` : '';
  notify(`${by === '' ? 'Another browser' : by} has changed ${words(show, first)}${more}.`, {
    look: 'warning',
    act: { words: 'Put mine back', run: () => void putAllBack(found) },
  });
}

async function putAllBack(found: readonly Overwritten[]): Promise<void> {
  for (const one of found) {
    const path = one.table === 'settings' ? 'show/settings' : `${TABLES[one.table].path}/${one.id}`;
    try {
      noteChange(one.table, one.id, one.now, await call<object>('PATCH', path, putBack(one)));
    } catch (error) {
      notify(error instanceof Error ? error.message : String(error), { look: 'fault' });
    }
  }
}
