/** Whether fields can be typed into: not those of the show while it is locked. Fields that are no part of the show are marked, and always can. */
import { createContext, useContext, type ReactNode } from 'react';
import { useLiveValue } from '../live/live';

const EditsShow = createContext(true);

/** Fields in here change something else than the show: what this browser does, a filter, a stand-in. */
export const NotOfTheShow = ({ children }: { children: ReactNode }) => (
  <EditsShow value={false}>{children}</EditsShow>
);

export const READ_ONLY_WORDS = 'The show is locked. Unlock it on the prompt desk to change this.';

export function useReadOnly(): boolean {
  const locked = useLiveValue('desk', (store) => store.desk()?.locked ?? false);
  return useContext(EditsShow) && locked;
}
