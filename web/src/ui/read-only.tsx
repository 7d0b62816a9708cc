/**
 * Whether somebody may change something here. Fields are those of the show unless they are marked: they can't be typed into while the show is locked, nor
 * by those who are no operators. Buttons say what their act needs.
 */
import { createContext, useContext, type ReactNode } from 'react';
import { refusalOf, type Role } from '@tawny-signal/core/people/roles';
import { useLiveValue } from '../live/live';
import { useMay, useMe } from '../people/me';

/** What an act needs: a role; or, for an edit, that of an operator and a show that is not locked. */
export type ActNeed = Role | 'edit';

const FieldsNeed = createContext<ActNeed>('edit');

/** Fields in here change something else than the show: what this browser does, a filter; or, where they need a role, the desk or a stand-in. */
export const NotOfTheShow = ({ needs = 'onlooker', children }: { needs?: Role; children: ReactNode }) => (
  <FieldsNeed value={needs}>{children}</FieldsNeed>
);

/** Why an act can’t be done by who uses this browser; undefined if it can. */
export function useWhyNot(needs: ActNeed = 'onlooker'): string | undefined {
  const locked = useLiveValue('desk', (store) => store.desk()?.locked ?? false);
  const role = needs === 'edit' ? 'operator' : needs;
  const isAllowed = useMay(role);
  const me = useMe();
  if (needs === 'edit') {
    if (!isAllowed) return 'Only operators change the show. Ask one, or sign in as one.';
    return locked ? 'The show is locked. Unlock it on the prompt desk to change this.' : undefined;
  }
  return isAllowed ? undefined : refusalOf(me?.role ? { role: me.role, standIn: false } : null, role);
}

/** Why the fields here can’t be typed into; undefined if they can. */
export const useReadOnlyWords = (): string | undefined => useWhyNot(useContext(FieldsNeed));

export const useReadOnly = (): boolean => useReadOnlyWords() !== undefined;
