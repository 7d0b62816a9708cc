/** What a guess costs. Without a source: the rules are ours; OWASP’s “Authentication Cheat Sheet” asks for the same (from memory). */
import { beforeAll, describe, expect, test } from '@jest/globals';
import type { KeptPeople } from './people-file.js';
import { hashWith, keepSecret, type KeptSecret } from './secrets.js';
import { createVerifier, sharedSalt } from './verifier.js';

const PASSPHRASES = {
  onlooker: 'the tide turns',
  caller: 'a lamp is lit',
  operator: 'fog on the pier',
} as const;
const ROLES = ['onlooker', 'caller', 'operator'] as const;
let kept: KeptPeople;

async function people(salt?: string): Promise<KeptPeople> {
  const passphrases: KeptPeople['passphrases'] = {};
  for (const role of ROLES) passphrases[role] = await keepSecret(PASSPHRASES[role], salt);
  return {
    version: 1,
    opening: { listen: [], hereToo: false, tls: false, announce: false, sessionDays: 1 },
    passphrases,
    people: [{ name: 'Iris', role: 'caller', secret: await keepSecret('storm glass') }],
    sessions: [],
  };
}

/** Counts the hashes, and how many are made at once. */
function counted(of: KeptPeople) {
  const counts = { made: 0, atOnce: 0, most: 0 };
  const verifier = createVerifier(of, async (passphrase: string, secret: KeptSecret) => {
    counts.made++;
    counts.most = Math.max(counts.most, ++counts.atOnce);
    return hashWith(passphrase, secret).finally(() => counts.atOnce--);
  });
  return { verifier, counts };
}

beforeAll(async () => {
  kept = await people('c2FsdCBvZiB0aGUgc2Vh');
});

describe('a guess', () => {
  test('knows each role and each person', async () => {
    const { verifier } = counted(kept);
    for (const role of ROLES) expect(await verifier.roleOf('Ann', PASSPHRASES[role])).toBe(role);
    expect(await verifier.roleOf('iris', 'storm glass')).toBe('caller');
    expect(await verifier.roleOf('Iris', PASSPHRASES.operator)).toBeNull();
    expect(await verifier.roleOf('Ann', 'storm glass')).toBeNull();
  });

  test.each(['Iris', 'Ann'])('costs one hash for %s, known or not', async (name) => {
    const { verifier, counts } = counted(kept);
    expect(await verifier.roleOf(name, 'not the passphrase')).toBeNull();
    expect(counts.made).toBe(1);
  });

  test('costs as much for either name while each role has a salt of its own, which ends as they sign in', async () => {
    const old = await people();
    for (const name of ['Iris', 'Ann']) {
      const { verifier, counts } = counted(old);
      await verifier.roleOf(name, 'not the passphrase');
      expect(counts.made).toBe(3);
    }
    const { verifier } = counted(old);
    for (const role of ROLES) expect(await verifier.roleOf('Ann', PASSPHRASES[role])).toBe(role);
    expect(new Set(ROLES.map((role) => old.passphrases[role]!.salt)).size).toBe(1);
    expect(sharedSalt(old)).toBe(old.passphrases.operator!.salt);
    for (const role of ROLES) expect(await verifier.roleOf('Ann', PASSPHRASES[role])).toBe(role);
  });

  test('waits for the one before it, and is refused where eight wait', async () => {
    const { verifier, counts } = counted(kept);
    const guesses: Promise<unknown>[] = [];
    while (!verifier.isFull) guesses.push(verifier.roleOf('Mallory', `guess ${guesses.length}`));
    expect(guesses).toHaveLength(9);
    expect(await Promise.all(guesses)).toEqual(guesses.map(() => null));
    expect(counts).toMatchObject({ made: 9, most: 1 });
    expect(verifier.isFull).toBe(false);
  });
});
