/** Passphrases and codes that are made: easily read out and typed, without letters that look alike. */

/** The 32 signs of Crockford's base 32, in small letters: no i, l, o or u. */
const SIGNS = '0123456789abcdefghjkmnpqrstvwxyz';
const GROUP = 4;

/** @param random a byte for each sign. @returns groups of four signs, 5 bits each: `k7mq-2xwd-9fta` of 12 bytes */
export function passphraseOf(random: Uint8Array): string {
  const signs = Array.from(random, (byte) => SIGNS[byte & 31]).join('');
  return signs.match(new RegExp(`.{1,${GROUP}}`, 'g'))?.join('-') ?? '';
}

/** The shortest passphrase that somebody may choose, in characters. */
export const SHORTEST_PASSPHRASE = 10;
export const LONGEST_PASSPHRASE = 200;

/** What is compared: without what people leave out or add when they type it from paper, in one form of Unicode. */
export const asCompared = (given: string): string => given.normalize('NFKC').trim().replace(/\s+/g, ' ');
