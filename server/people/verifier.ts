/** Finds out whose passphrase was typed: at the same cost for each name, one guess at a time. */
import pLimit from 'p-limit';
import { ROLES, type Role } from '@tawny-signal/core/people/roles';
import type { KeptPeople } from './people-file.js';
import { hashWith, isHash, keepSecret, SPARE } from './secrets.js';

/** The most guesses that wait. Each takes a core for some tenths of a second. */
const MOST_WAITING = 8;

export interface Verifier {
  /** No further guess is taken now. */
  readonly isFull: boolean;
  /** The role of somebody who types this passphrase under this name; null if it is wrong. */
  roleOf(name: string, passphrase: string): Promise<Role | null>;
}

/** The salt that the passphrases of the roles share, so that one hash is compared with all of them. Undefined where there is no passphrase. */
export const sharedSalt = ({ passphrases }: KeptPeople, but?: Role): string | undefined =>
  ROLES.filter((role) => role !== but)
    .map((role) => passphrases[role]?.salt)
    .find((salt) => salt !== undefined);

/**
 * @param kept what is known now. Passphrases that still have a salt each are hashed anew when they are typed rightly; the caller saves that
 * @param hash takes long on purpose
 */
export function createVerifier(kept: KeptPeople, hash = hashWith): Verifier {
  // In a queue of its own, so that guesses take one thread of the pool that files and names of hosts need too.
  const inTurn = pLimit(1);

  async function check(name: string, passphrase: string): Promise<Role | null> {
    const { passphrases } = kept;
    const person = personNamed(kept, name);
    const ofRoles = ROLES.flatMap((role) => (passphrases[role] ? [{ role, secret: passphrases[role] }] : []));
    const candidates = person ? [person] : ofRoles;
    // The same number of hashes for names that are known and names that are not: usually one.
    const count = Math.max(1, new Set(ofRoles.map(({ secret }) => secret.salt)).size);
    const hashes = new Map<string, Buffer>();
    for (const { secret } of candidates)
      if (!hashes.has(secret.salt)) hashes.set(secret.salt, await hash(passphrase, secret));
    for (let made = hashes.size; made < count; made++) await hash(passphrase, ofRoles[0]?.secret ?? SPARE);
    const found = candidates.find(({ secret }) => isHash(hashes.get(secret.salt)!, secret));
    const salt = sharedSalt(kept);
    if (found && !person && found.secret.salt !== salt)
      passphrases[found.role] = await keepSecret(passphrase, salt);
    return found?.role ?? null;
  }

  return {
    get isFull() {
      return inTurn.activeCount + inTurn.pendingCount > MOST_WAITING;
    },
    roleOf: (name, passphrase) => inTurn(() => check(name, passphrase)),
  };
}

/** People type their names in small letters too. */
export const isNamed = (one: { name: string }, name: string): boolean =>
  one.name.toLowerCase() === name.toLowerCase();

export const personNamed = ({ people }: KeptPeople, name: string): KeptPeople['people'][number] | undefined =>
  people.find((one) => isNamed(one, name));
