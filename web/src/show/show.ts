/** The show and its edits, for components. */
import {
  useMutation,
  useQuery,
  useQueryClient,
  useSuspenseQuery,
  type UseMutationResult,
} from '@tanstack/react-query';
import type { Settings, Show } from '@tawny-signal/core/show';
import type { Bank, BankAct } from '@tawny-signal/core/show/bank';
import type { Route } from '@tawny-signal/core/show/route';
import type { Hear } from '@tawny-signal/core/hears';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { WhyStep } from '@tawny-signal/core/live/messages';
import type { PositionAct } from '@tawny-signal/core/time/position';
import { TABLES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import { count } from '@tawny-signal/core/plural';
import { useLive } from '../live/live';
import { call, Refused } from './api';
import { EDITS, SHOW, UNDO, type ReadShow } from './show-cache';
import { createRowChanges } from './merge-change';
import { noteChange } from './overwritten-words';
import { notify } from '../ui/notice';

export function useShow(): Show {
  return useSuspenseQuery({ queryKey: SHOW, queryFn: () => call<ReadShow>('GET', 'show') }).data.show;
}

export function useUndoLabels(): { undo: string | null; redo: string | null } {
  const { data } = useQuery({
    queryKey: UNDO,
    queryFn: () => call<{ undo: string | null; redo: string | null }>('GET', 'undo'),
  });
  return data ?? { undo: null, redo: null };
}

export interface PastEdit {
  id: number;
  at: string;
  kind: 'do' | 'undo' | 'redo';
  label: string;
  /** Who made it; empty where nobody had to sign in. */
  by: string;
}

export function useEdits(wanted: boolean): PastEdit[] {
  return (
    useQuery({ queryKey: EDITS, queryFn: () => call<PastEdit[]>('GET', 'edits?most=60'), enabled: wanted })
      .data ?? []
  );
}

/** Shows a refusal as a message if no field shows it. */
function sayRefusal(error: Error): void {
  if (!(error instanceof Refused) || error.fields.length === 0) notify(error.message, { look: 'fault' });
}

export function useEdit<In, Out>(run: (input: In) => Promise<Out>): UseMutationResult<Out, Error, In> {
  return useMutation({ mutationFn: run, onError: sayRefusal, networkMode: 'always' });
}

/** Some members of a row, for each kind that it can be. */
type Members<Row> = Row extends unknown
  ? { [Member in Exclude<keyof Row, 'id'>]?: Row[Member] | undefined }
  : never;

/** Adds a row: all of it but its id, or what the server cannot fill in. */
export const useAddRow = <T extends TableName>(table: T) =>
  useEdit((given: Members<RowOf[T]>) => call<RowOf[T]>('POST', TABLES[table].path, given));
const rowChanges = createRowChanges();

export const useChangeRow = <T extends TableName>(table: T) => {
  const queries = useQueryClient();
  return useEdit(({ id, change }: { id: string; change: Members<RowOf[T]> }) => {
    const rows = (queries.getQueryData<ReadShow>(SHOW)?.show[table] ?? []) as RowOf[T][];
    const seen = rows.find((row) => row.id === id);
    return rowChanges
      .change<RowOf[T]>(seen, change as object as Partial<RowOf[T]>, (given) =>
        call<RowOf[T]>('PATCH', `${TABLES[table].path}/${id}`, given),
      )
      .then((after) => noteChange(table, id, seen, after));
  });
};
export const useRemoveRow = (table: TableName) =>
  useEdit((id: string) => call<null>('DELETE', `${TABLES[table].path}/${id}`));

export const useAddBank = () => useEdit((name: string) => call<Bank>('POST', 'banks', { name }));
export const useChangeBank = () =>
  useEdit(({ id, change }: { id: string; change: Partial<Bank> & { act?: BankAct } }) =>
    call<Bank>('PATCH', `banks/${id}`, change),
  );

export const useAddMapping = () =>
  useEdit((given: { hear?: Hear; name?: string; after?: string | null; bankId?: string | null }) =>
    call<Mapping>('POST', 'mappings', given),
  );
export const useAddMappings = () =>
  useEdit((mappings: Omit<Mapping, 'id'>[]) => call<Mapping[]>('POST', 'mappings/spread', { mappings }));
export const useCopyMapping = () => useEdit((id: string) => call<Mapping>('POST', `mappings/${id}/copy`));
export const useCopyToNext = () => useEdit((id: string) => call<Mapping>('POST', `mappings/${id}/next`));
export const useMoveMapping = () =>
  useEdit(({ id, after }: { id: string; after: string | null }) =>
    call<Mapping>('POST', `mappings/${id}/move`, { after }),
  );

export const useAddRoute = () =>
  useEdit((given: Partial<Route> & Pick<Route, 'fromId' | 'toId'>) => call<Route>('POST', 'routes', given));
export const useRestoreRoute = () => useEdit((id: string) => call<null>('POST', `routes/${id}/restore`));

export const useChangeSettings = () => {
  const { settings } = useShow();
  return useEdit(async (change: Partial<Settings>) =>
    noteChange('settings', 'settings', settings, await call<Settings>('PATCH', 'show/settings', change)),
  );
};

const stepped = (words: string, label: string | null): void => {
  if (label === null) notify(`There is nothing to ${words}.`);
  else notify(`${words === 'undo' ? 'Undone' : 'Redone'}: ${label}`);
};
export const useUndo = () =>
  useEdit(async (which: 'undo' | 'redo') =>
    stepped(which, (await call<{ label: string | null }>('POST', which)).label),
  );

/** Releases everything, and says what that was. */
export const usePanic = () => {
  const { store } = useLive();
  const { lines } = useShow();
  return useEdit(async () => {
    const notes = lines.reduce((sum, { id }) => sum + store.held(id).out.length, 0);
    const running = store.order()?.running.length ?? 0;
    const { done } = await call<{ done: boolean }>('POST', 'desk/panic');
    const parts = [
      ...(notes > 0 ? [`${count(notes, 'note')} released`] : []),
      ...(running > 0 ? [`${count(running, 'moment')} stopped`] : []),
    ];
    if (done) notify(`Panic: ${parts.join(', ') || 'no note was held, and no moment was running'}.`);
    else
      notify('The engine is being restarted. Panic is the first thing that it does when it is back.', {
        look: 'warning',
      });
  });
};

/** Returns what mappings did with a message; null if it is too old. */
export function useWhy(seq: number, enabled = true): WhyStep[] | null {
  const { data } = useQuery({
    queryKey: ['why', seq],
    enabled,
    queryFn: () => call<{ steps: WhyStep[] | null }>('GET', `desk/why?seq=${seq}`),
    staleTime: Infinity,
    retry: false,
  });
  return data?.steps ?? null;
}

export const useSetTempo = () => useEdit((bpm: number) => call('PUT', 'desk/tempo', { bpm }));
export const useTap = () => useEdit(() => call('POST', 'desk/tap'));
export const usePosition = () => useEdit((act: PositionAct) => call('POST', 'desk/position', act));
export const useTempoSource = () => useEdit((source: string) => call('PUT', 'desk/tempo-source', { source }));
export const useMoveTimeSource = () =>
  useEdit(({ id, after }: { id: string; after: string | null }) =>
    call('POST', `time-sources/${id}/move`, { after }),
  );
export const useArm = () => useEdit((armed: boolean) => call('PUT', 'desk/armed', { armed }));
