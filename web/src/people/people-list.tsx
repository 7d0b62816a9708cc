/** People with a name and a passphrase of their own. */
import { useState } from 'react';
import { UserMinus } from 'lucide-react';
import type { PeopleSeen, Shown } from '@tawny-signal/core/people/people';
import type { Role } from '@tawny-signal/core/people/roles';
import { IconButton } from '../ui/button';
import { TypedField } from '../ui/typed-field';
import { useAddPerson, useRemovePerson } from './people';
import { RoleChoice } from './role-choice';
import { ShownOnce } from './shown-once';

export function People({ people: { people } }: { people: PeopleSeen }) {
  const [role, setRole] = useState<Role>('caller');
  const [shown, setShown] = useState<Shown>({});
  const add = useAddPerson();
  const remove = useRemovePerson();
  return (
    <section aria-label="People">
      <h2 className="pb-1 font-semibold">People with a passphrase of their own</h2>
      <ul>
        {people.map((person) => (
          <li key={person.name} className="flex items-center gap-4 border-t border-rule py-1">
            <span className="w-56 truncate font-semibold">{person.name}</span>
            <span className="flex-1 text-ink-2">{person.role}</span>
            <IconButton label={`Remove ${person.name}`} onClick={() => remove.mutate(person.name)}>
              <UserMinus size={15} aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
      <div className="max-w-lg border-t border-rule pt-2">
        <RoleChoice role={role} choose={setRole} />
        <TypedField
          label="Add"
          value=""
          placeholder="a name, like Mara"
          hint="Press Enter. Their passphrase is shown once; the name again makes a new one."
          commit={async (name) => setShown(await add.mutateAsync({ name, role }))}
        />
      </div>
      <ShownOnce shown={shown} done={() => setShown({})} />
    </section>
  );
}
