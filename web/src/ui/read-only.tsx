/** Whether fields can be typed into: not those of the show while it is locked. Fields that are no part of the show are marked, and always can. */
import { createContext, useContext, type ReactNode } from 'react';
import { useLiveValue } from '../live/live';
import { useMay } from '../people/me';

const EditsShow = createContext(true);

/** Fields in here change something else than the show: what this browser does, a filter, a stand-in. */
export const NotOfTheShow = ({ children }: { children: ReactNode }) => (
  <EditsShow value={false}>{children}</EditsShow>
);

/** Why fields can’t be typed into. */
export function useReadOnlyWords(): string | undefined {
  const readOnly = useReadOnly();
  const isOperator = useMay('operator');
  if (!readOnly) return undefined;
  return isOperator
    ? 'The show is locked. Unlock it on the prompt desk to change this.'
    : 'Only operators change the show. Ask one, or sign in as one.';
}

export function useReadOnly(): boolean {
  const locked = useLiveValue('desk', (store) => store.desk()?.locked ?? false);
  const isOperator = useMay('operator');
  return useContext(EditsShow) && (locked || !isOperator);
}
