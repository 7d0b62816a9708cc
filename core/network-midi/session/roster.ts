/** Who takes part in a session. */
import { tell, type SessionHost, type SessionSettings } from './host.js';
import {
  createParticipant,
  isSameAddress,
  type Address,
  type Participant,
  type Ports,
} from './participant.js';
import type { Port } from './host.js';

export interface Roster {
  all(): readonly Participant[];
  /** The one that sends from an address. */
  at(port: Port, from: Address, ssrc: number): Participant | undefined;
  /** Adds one, which is nobody yet. @param confirmedTo our last packet before it came */
  join(
    given: Ports & Pick<Participant, 'ssrc' | 'name' | 'token' | 'weCalled'>,
    confirmedTo: number,
    now: number,
  ): Participant;
  /** It has shown that it is where it says, and takes the place of one that was there before. */
  prove(one: Participant, now: number): void;
  /** Removes one, and releases what it holds. */
  leave(one: Participant, now: number): void;
  /** Removes one, and tells it so. */
  expel(one: Participant, now: number): void;
}

/** @param left called after somebody has left. @param farewell called before that: releases what we hold there */
export function createRoster(
  { ssrc, sysexLimit }: SessionSettings,
  host: SessionHost,
  left: (one: Participant, now: number) => void,
  farewell: (one: Participant, now: number) => void,
): Roster {
  let all: Participant[] = [];

  function remove(one: Participant, now: number): void {
    all = all.filter((other) => other !== one);
    for (const bytes of one.into.release(now)) host.heard(one, bytes, 0, 'left');
    left(one, now);
    host.changed();
  }

  function leave(one: Participant, now: number): void {
    farewell(one, now);
    remove(one, now);
  }

  return {
    all: () => all,
    at: (port, from, number) => all.find((one) => one.ssrc === number && isSameAddress(one[port], from)),
    join(given, confirmedTo, now) {
      const one = createParticipant(given, { sysexLimit, confirmedTo, now });
      all = [...all, one];
      return one;
    },
    prove(one, now) {
      if (one.isProven) return;
      one.isProven = true;
      for (const other of all)
        if (other !== one && (other.ssrc === one.ssrc || isSameAddress(other.control, one.control)))
          leave(other, now);
      host.changed();
    },
    leave,
    expel(one, now) {
      farewell(one, now);
      tell(host, 'control', one.control, { kind: 'goodbye', token: one.token, ssrc, name: '' });
      remove(one, now);
    },
  };
}
