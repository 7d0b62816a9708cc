/** What is secret, and what is kept of it: passphrases by a slow hash that takes memory, tokens by a fast one, since nobody can guess them. */
import { createHash, randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { z } from 'zod';
import { asCompared, passphraseOf } from '@tawny-signal/core/people/passphrase';

/** 32 MB and three rounds: one of the settings that OWASP's “Password Storage Cheat Sheet” gives for scrypt (from memory). */
const COST = { N: 2 ** 15, r: 8, p: 3 };
const SALT_BYTES = 16;
const KEY_BYTES = 32;
const TOKEN_BYTES = 32;
const MADE_SIGNS = 12;

export const keptSecretSchema = z.object({
  salt: z.string(),
  key: z.string(),
  N: z
    .int()
    .min(2)
    .max(2 ** 18),
  r: z.int().min(1).max(32),
  p: z.int().min(1).max(16),
});
export type KeptSecret = z.infer<typeof keptSecretSchema>;

/** RFC 7914. @returns `bytes` bytes */
export function derive(
  passphrase: string | Buffer,
  salt: Buffer,
  bytes: number,
  cost: ScryptOptions,
): Promise<Buffer> {
  const maxmem = 2 * 128 * (cost.N ?? COST.N) * (cost.r ?? COST.r) * (cost.p ?? COST.p);
  return new Promise((done, fail) =>
    scrypt(passphrase, salt, bytes, { ...cost, maxmem }, (error, key) => (error ? fail(error) : done(key))),
  );
}

/** @param salt in base64; another one each time where it is left out */
export async function keepSecret(
  passphrase: string,
  salt = randomBytes(SALT_BYTES).toString('base64'),
): Promise<KeptSecret> {
  const key = await derive(asCompared(passphrase), Buffer.from(salt, 'base64'), KEY_BYTES, COST);
  return { salt, key: key.toString('base64'), ...COST };
}

/** No passphrase has this key. It takes as long as a real one. */
export const SPARE: KeptSecret = { salt: '', key: '', ...COST };

/** The hash of a passphrase, made like that of a secret. It is the secret’s own if `isHash`. */
export const hashWith = (given: string, { salt, N, r, p }: KeptSecret): Promise<Buffer> =>
  derive(asCompared(given), Buffer.from(salt, 'base64'), KEY_BYTES, { N, r, p });

/** Compares in a time that says nothing. */
export function isHash(hash: Buffer, { key }: KeptSecret): boolean {
  const kept = Buffer.from(key, 'base64');
  return kept.length === hash.length && timingSafeEqual(hash, kept);
}

/** 60 bits that can be read out. */
export const makePassphrase = (): string => passphraseOf(randomBytes(MADE_SIGNS));
export const makeToken = (): string => randomBytes(TOKEN_BYTES).toString('base64url');
/** What is kept of a token. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('base64');

/** Compares in a time that says nothing. */
export function isSame(a: string, b: string): boolean {
  const [one, other] = [a, b].map((text) => createHash('sha256').update(text).digest());
  return timingSafeEqual(one!, other!);
}
