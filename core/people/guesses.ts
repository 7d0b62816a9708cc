/**
 * Slows down guessing. Each wrong passphrase makes its address wait longer, and all addresses together have a limit, so that many addresses do not
 * give many more guesses. Times are milliseconds of any clock that never goes back.
 */

/** How many wrong passphrases of an address are free, because people mistype. */
const FREE = 3;
const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 60_000;
/** An address without guesses for this long is forgotten. */
const FORGET_MS = 15 * 60_000;
/** The most addresses that are remembered. A new one replaces the one that was quiet longest. */
const MOST_ADDRESSES = 1000;
/** The limit for all addresses together: this many wrong passphrases in this time, then one now and then. */
const ALL_FREE = 30;
const ALL_IN_MS = 60_000;

interface Guesser {
  wrong: number;
  /** When the last answer was given, or the last guess begun. */
  last: number;
  /** Guesses that have no answer yet. */
  open: number;
}

export interface WrongGuesses {
  address: string;
  wrong: number;
  /** When the last one came, on the clock that was given. */
  last: number;
}

export interface Guesses {
  /** @returns how long this address has to wait before it may guess, in ms; 0 if it may now */
  waitMs(address: string, now: number): number;
  /** A guess begins. It counts as wrong until it is answered, so that many guesses at once are not free. */
  begin(address: string, now: number): void;
  /** A guess is answered. The wait for the next one begins now, however long the answer took. One that was right does not count. */
  answer(address: string, right: boolean, now: number): void;
  /** Those who were wrong lately, the latest first, at most 20. */
  seen(now: number): WrongGuesses[];
}

/** A whole network of IPv6 belongs to one machine, so its first 64 bits are one address. */
export function guesserOf(address: string): string {
  if (!address.includes(':') || address.startsWith('::ffff:')) return address;
  const [head = ''] = address.split('::');
  const parts = head.split(':');
  return [...parts, ...new Array<string>(4).fill('0')].slice(0, 4).join(':');
}

export function createGuesses(): Guesses {
  const known = new Map<string, Guesser>();
  /** When the last wrong ones of all addresses came. */
  let all: number[] = [];

  const ofAll = (now: number): number[] => (all = all.filter((at) => now - at < ALL_IN_MS));

  function guesser(address: string, now: number): Guesser | null {
    const one = known.get(address);
    if (one && now - one.last >= FORGET_MS) known.delete(address);
    return known.get(address) ?? null;
  }

  /** Nobody guesses again before the answer. */
  function waitOf({ wrong, last, open }: Guesser, now: number): number {
    const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (wrong - FREE));
    return open > 0 ? wait : last + wait - now;
  }

  return {
    waitMs(given, now) {
      const one = guesser(guesserOf(given), now);
      const own = one === null || one.wrong < FREE ? 0 : waitOf(one, now);
      const lately = ofAll(now);
      const shared = lately.length < ALL_FREE ? 0 : lately.at(-ALL_FREE)! + ALL_IN_MS - now;
      return Math.max(0, own, shared);
    },
    begin(given, now) {
      const address = guesserOf(given);
      const { wrong = 0, open = 0 } = guesser(address, now) ?? {};
      known.delete(address);
      if (known.size >= MOST_ADDRESSES) known.delete(known.keys().next().value!);
      known.set(address, { wrong: wrong + 1, last: now, open: open + 1 });
      ofAll(now).push(now);
    },
    answer(given, right, now) {
      const one = known.get(guesserOf(given));
      if (one) {
        one.open = Math.max(0, one.open - 1);
        one.last = now;
        // Only this one: else whoever knows one passphrase guesses at another for nothing.
        if (right) one.wrong--;
      }
      if (right) all.pop();
    },
    seen(now) {
      return [...known]
        .filter(([, { wrong, last }]) => wrong > 0 && now - last < FORGET_MS)
        .toReversed()
        .slice(0, 20)
        .map(([address, { wrong, last }]) => ({ address, wrong, last }));
    },
  };
}
