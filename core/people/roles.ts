/** Who may do what: an onlooker sees, a caller runs the show, an operator changes it. */
import { z } from 'zod';

/** In the order of what they may do: each may do what those before it may. */
export const ROLES = ['onlooker', 'caller', 'operator'] as const;
export const roleSchema = z.enum(ROLES, 'A role is onlooker, caller or operator.');
export type Role = (typeof ROLES)[number];

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  onlooker: 'sees everything, and sends nothing',
  caller: 'runs the show on the prompt desk, and has Panic',
  operator: 'may do everything',
};

/** What an act needs: a role; nothing at all, as signing in; or to be a stand-in of this machine. */
export type Need = Role | 'nobody' | 'standIn';

/** Somebody who asks. */
export interface Asker {
  role: Role;
  /** True for the stand-ins and scripts that the start command runs, and for pages of this machine that need no sign-in. */
  standIn: boolean;
}

/** @param asker null for somebody who has not signed in */
export function may(asker: Asker | null, need: Need): boolean {
  if (need === 'nobody') return true;
  if (asker === null) return false;
  if (need === 'standIn') return asker.standIn;
  return ROLES.indexOf(asker.role) >= ROLES.indexOf(need);
}

/** Why it was refused, and what to do. */
export function refusalOf(asker: Asker | null, need: Need): string {
  if (asker === null) return 'Sign in first.';
  if (need === 'standIn') return 'Only a stand-in of this machine does that.';
  return `${aOrAn(asker.role)} can’t do that: it takes ${aOrAn(need, true)}. Sign in with another passphrase, or ask an operator.`;
}

function aOrAn(role: string, inside = false): string {
  const article = /^[aeiou]/.test(role) ? 'an' : 'a';
  return `${inside ? article : article[0]!.toUpperCase() + article.slice(1)} ${role}`;
}
