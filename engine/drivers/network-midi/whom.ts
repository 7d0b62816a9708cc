/** Whom a session calls: machines, which are looked up until they are known, and sessions, once they are found by their names. */
import { lookup } from 'node:dns/promises';
import { isIP, isIPv6 } from 'node:net';
import type { FoundSession } from '@tawny-signal/core/live/line-state';
import { isSameAddress } from '@tawny-signal/core/network-midi/session/participant';
import type { Session } from '@tawny-signal/core/network-midi/session/session';
import { foundNameOf, machineOf } from '@tawny-signal/core/show/whom';
import type { LineOf } from '../driver.js';
import { waitBefore, type Timers } from '../retry.js';
import { announcedName } from './found-list.js';

export interface Whom {
  /** Calls those that are called by name where they are now. Told now and then too, since one that was in the session may have left. */
  found(all: readonly FoundSession[]): void;
  /** The names that are called and were not found yet. */
  missing(): string[];
}

interface WhomListener {
  /** Somebody was called. */
  called(): void;
  /** What is wrong with those who are called, in words; null for nothing. */
  trouble(words: string | null, tryInMs?: number): void;
}

/** @param port the first one of our pair */
export function callWhom(
  { calls, listenHost, byName }: Pick<LineOf<'midi-network'>, 'calls' | 'listenHost' | 'byName'>,
  session: Session,
  port: number,
  timers: Timers,
  listener: WhomListener,
): Whom {
  const troubles = new Map<string, string>();
  const names = calls.flatMap((text) => foundNameOf(text) ?? []);
  /** Where those were found that are called by name. */
  const places = new Map<string, FoundSession>();

  function trouble(text: string, words: string | null, tryInMs?: number): void {
    if (words === null) troubles.delete(text);
    else troubles.set(text, words);
    listener.trouble([...troubles.values()].join(' ') || null, tryInMs);
  }

  const isOurs = (host: string, itsPort: number): boolean =>
    itsPort === port && (host === listenHost || (host === '127.0.0.1' && listenHost === '0.0.0.0'));

  /** @returns what is wrong, in words */
  async function call({ host, port: itsPort }: { host: string; port: number }): Promise<string | null> {
    const family = isIPv6(listenHost) ? 6 : 4;
    try {
      const address = isIP(host) ? host : (await lookup(host, { family })).address;
      if (isIP(address) !== family)
        return `This session is at ${listenHost}, from where ${host} can’t be reached: one is an address of IPv4, the other one of IPv6.`;
      if (isOurs(address, itsPort))
        return 'This session calls itself. Write the address of the other machine.';
      session.call({ host: address, port: itsPort });
      listener.called();
      return null;
    } catch {
      return `No machine is called “${host}”. Write its address, like 192.168.1.20.`;
    }
  }

  function callMachine(text: string, tries: number): void {
    const machine = machineOf(text);
    if (!machine) return;
    void call(machine).then((words) => {
      const wait = waitBefore(tries);
      if (words !== null) timers.later(wait, () => callMachine(text, tries + 1));
      trouble(text, words, words === null ? undefined : wait);
    });
  }

  for (const text of calls) callMachine(text, 0);
  if (!byName)
    for (const name of names)
      trouble(name, `“${name}” is called by its name: switch “Found by name” on, or write its address.`);

  const isIn = (place: FoundSession): boolean =>
    session.participants().some(({ control }) => isSameAddress(control, place));

  return {
    found(all) {
      for (const name of names) {
        const place = all.find((one) => one.name === announcedName(name));
        const before = places.get(name);
        if (!place || (place.host === before?.host && place.port === before.port)) continue;
        // Whoever is in the session is not left because somebody else says the same name.
        if (before && isIn(before)) continue;
        if (before) session.uncall(before);
        places.set(name, place);
        session.call({ host: place.host, port: place.port });
        listener.called();
      }
    },
    missing: () => (byName ? names.filter((name) => !places.has(name)) : []),
  };
}
