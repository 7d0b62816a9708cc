/** The sessions that were found on the network, at most so many, without ours. No I/O. */
import { isIPv4 } from 'node:net';
import type { FoundSession } from '@tawny-signal/core/live/line-state';

/** The service type that IANA has registered for sessions of network MIDI: `_apple-midi._udp`. */
export const SERVICE = { type: 'apple-midi', protocol: 'udp' } as const;
const SUFFIX = '._apple-midi._udp.local';
const MOST_FOUND = 64;
/** The most announcements that are looked at in a round, so that a flood of names does not hide the one that is called. */
export const MOST_HEARD = 1000;
/** The first bytes of addresses of this machine, and of groups of machines and what comes after them. */
const LOOPBACK = 127;
const FIRST_OF_GROUPS = 224;
/** As long as a name that is called (core/show/whom). A label of DNS has at most 63 octets (RFC 6763, section 4.1.1). */
const LONGEST_NAME = 60;
/** One that has not answered in so many rounds is gone. */
const ROUNDS = 3;

/** The time between two rounds grows (RFC 6762, section 5.2), up to a minute. */
export const lookAgainMs = (round: number): number => Math.min(60_000, 1000 * 2 ** round);

/** What is read of an announcement. */
export interface Announced {
  fqdn: string;
  port: number;
  addresses?: string[];
  /** Where the packet came from. */
  referer?: { address: string };
}

export interface FoundList {
  /** In the order of their names. */
  all(): FoundSession[];
  /** @returns whether the list is another one now */
  seen(announced: Announced, round: number): boolean;
  gone(announced: Pick<Announced, 'fqdn'>): boolean;
  /** Removes those that have not answered. */
  sweep(round: number): boolean;
}

/** How a name is announced: the package that we use would take a dot for the end of a label. */
export const announcedName = (name: string): string => name.replaceAll('.', '-');

/** The name of a session; null where it is no session, or no name. */
function nameOf(fqdn: unknown): string | null {
  if (typeof fqdn !== 'string' || !fqdn.toLowerCase().endsWith(SUFFIX)) return null;
  const name = fqdn
    .slice(0, -SUFFIX.length)
    .replace(/[\p{Cc}"]/gu, '')
    .trim();
  return name === '' ? null : name.slice(0, LONGEST_NAME);
}

const firstByte = (address: string): number => Number(address.split('.')[0]);

/**
 * The address that the packet came from, if it is one of those that are announced; else the first of them. An announcement can send us to no group of
 * machines and to nowhere (RFC 1112, section 4; RFC 6890), and to this machine only if it came from it.
 */
function hostOf({ addresses = [], referer }: Announced): string | null {
  const from = referer?.address;
  const isOfHere = from !== undefined && isIPv4(from) && firstByte(from) === LOOPBACK;
  const known = addresses.filter((address) => {
    if (!isIPv4(address)) return false;
    const first = firstByte(address);
    return first > 0 && first < FIRST_OF_GROUPS && (first !== LOOPBACK || isOfHere);
  });
  if (from !== undefined && isIPv4(from) && (known.length === 0 || known.includes(from))) return from;
  return known[0] ?? null;
}

/**
 * @param ours the name of our session, which hears itself
 * @param called the names that are called: there is always room for them
 */
export function createFoundList(
  ours: { name: string; port: number },
  called: readonly string[] = [],
): FoundList {
  const wanted = new Set(called.map(announcedName));
  const found = new Map<string, FoundSession & { round: number }>();
  const ourName = announcedName(ours.name);
  return {
    all: () =>
      [...found.values()]
        .map(({ name, host, port }) => ({ name, host, port }))
        .sort((one, other) => one.name.localeCompare(other.name)),
    seen(announced, round) {
      const name = nameOf(announced.fqdn);
      const host = hostOf(announced);
      const { port } = announced;
      if (name === null || host === null || !Number.isInteger(port) || port < 1 || port > 65_534)
        return false;
      if (name === ourName && port === ours.port) return false;
      const before = found.get(name);
      if (!before && !wanted.has(name) && found.size >= MOST_FOUND) return false;
      found.set(name, { name, host, port, round });
      return before?.host !== host || before.port !== port;
    },
    gone: ({ fqdn }) => found.delete(nameOf(fqdn) ?? ''),
    sweep(round) {
      const late = [...found.values()].filter((one) => round - one.round >= ROUNDS);
      for (const { name } of late) found.delete(name);
      return late.length > 0;
    },
  };
}
