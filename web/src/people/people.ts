/** Who may in and who is in, for components. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Opening, PeopleSeen, Shown } from '@tawny-signal/core/people/people';
import type { Role } from '@tawny-signal/core/people/roles';
import { call } from '../show/api';
import { PEOPLE } from '../show/show-cache';
import { useEdit } from '../show/show';

export const usePeople = (): PeopleSeen | undefined =>
  useQuery({ queryKey: PEOPLE, queryFn: () => call<PeopleSeen>('GET', 'people') }).data;

/** Something that changes who may in; the page is read anew afterwards. */
function usePeopleAct<In, Out>(run: (given: In) => Promise<Out>) {
  const queries = useQueryClient();
  return useEdit(async (given: In) => {
    const out = await run(given);
    await queries.invalidateQueries({ queryKey: PEOPLE });
    return out;
  });
}

export const useOpen = () =>
  usePeopleAct((opening: Opening) => call<Shown>('PUT', 'people/opening', opening));
export const useNewPassphrase = () =>
  usePeopleAct((role: Role) => call<Shown>('PUT', `people/passphrases/${role}`, {}));
export const useAddPerson = () =>
  usePeopleAct((given: { name: string; role: Role }) => call<Shown>('POST', 'people', given));
export const useRemovePerson = () =>
  usePeopleAct((name: string) => call('DELETE', `people/${encodeURIComponent(name)}`));
/** @param id null for all but this one */
export const useEndSession = () =>
  usePeopleAct((id: string | null) =>
    call('DELETE', id === null ? 'people/sessions' : `people/sessions/${id}`),
  );
export const useCode = () =>
  useEdit((role: Role) => call<{ code: string; until: number }>('POST', 'people/codes', { role }));

export async function signOut(): Promise<void> {
  await call('POST', 'people/sign-out');
  location.replace('/');
}
