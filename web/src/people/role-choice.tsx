import { roleSchema, ROLE_WORDS, ROLES, type Role } from '@tawny-signal/core/people/roles';
import { Choice } from '../ui/choice';

const OPTIONS = ROLES.map((role) => ({ value: role, words: `${role}: ${ROLE_WORDS[role]}` }));

/** A choice of a role, with what each may do. */
export function RoleChoice({ role, choose }: { role: Role; choose: (role: Role) => void }) {
  return (
    <Choice label="Role" value={role} options={OPTIONS} choose={(next) => choose(roleSchema.parse(next))} />
  );
}
