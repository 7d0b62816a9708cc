/** Edits and queries of the running order and of the log, for components. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { LogEntry, Performance } from '@tawny-signal/core/cues/log';
import type { OrderAct } from '@tawny-signal/core/cues/order';
import type { Moment } from '@tawny-signal/core/show/moment';
import { call } from './api';
import { press } from './press';
import { useEdit } from './show';

export const useAddMoment = () =>
  useEdit((given: { after?: string | null }) => call<Moment>('POST', 'moments', given));
export const useCopyMoment = () => useEdit((id: string) => call<Moment>('POST', `moments/${id}/copy`));
export const useMoveMoment = () =>
  useEdit(({ id, after }: { id: string; after: string | null }) =>
    call<Moment>('POST', `moments/${id}/move`, { after }),
  );
export const usePasteMoments = () =>
  useEdit((given: { after?: string; moments: unknown[] }) => call<Moment[]>('POST', 'moments/paste', given));
export const useSetTimes = () =>
  useEdit((times: { id: string; timecode: string }[]) => call<number>('POST', 'moments/times', { times }));
export const useRenumber = () => useEdit(() => call<number>('POST', 'moments/renumber'));

/** Go, hold, stop, stand by … */
export const useOrderAct = () => useEdit((act: OrderAct) => press('desk/order', act));

/** Locks the show: it is armed, and nothing can be edited. */
export const useLock = () => useEdit((locked: boolean) => call('PUT', 'desk/locked', { locked }));

export interface Performances {
  current: Performance | null;
  performances: Performance[];
}

const LOG = ['log'] as const;
/** How often the log is read again while it is shown. */
const AGAIN_MS = 1500;

export function usePerformances(): Performances | undefined {
  return useQuery({
    queryKey: LOG,
    queryFn: () => call<Performances>('GET', 'log'),
    refetchInterval: AGAIN_MS,
  }).data;
}

/** @param isRunning true while it is the current performance, which is read again and again */
export function useLogEntries(id: string | null, isRunning: boolean): LogEntry[] | undefined {
  return useQuery({
    queryKey: [...LOG, id],
    queryFn: () => call<LogEntry[]>('GET', `log/${id}`),
    enabled: id !== null,
    refetchInterval: isRunning ? AGAIN_MS : false,
  }).data;
}

/** Begins, ends or removes a performance, and reads the list again. */
export function useLogEdit<In>(run: (given: In) => Promise<unknown>) {
  const queries = useQueryClient();
  return useEdit(async (given: In) => {
    await run(given);
    await queries.invalidateQueries({ queryKey: LOG });
  });
}
export const useBeginPerformance = () => useLogEdit((name: string) => call('POST', 'log/begin', { name }));
export const useEndPerformance = () => useLogEdit<undefined>(() => call('POST', 'log/end'));
export const useRemovePerformance = () => useLogEdit((id: string) => call('DELETE', `log/${id}`));
