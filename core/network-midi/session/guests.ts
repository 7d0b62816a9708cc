/** Who comes in: invitations by others, which are answered at most ten times a second, and of which few are remembered. */
import type { SessionCommand } from '../session-command.js';
import { isSameAddress, type Address } from './participant.js';
import { HALF_OPEN_MS } from './waits.js';

export type Invitation = Extract<SessionCommand, { token: number }>;

export interface RefusedSeen {
  name: string;
  host: string;
  /** When it asked last, in ms, and how often. */
  at: number;
  count: number;
}

export interface HalfOpen {
  ssrc: number;
  name: string;
  token: number;
  control: Address;
  at: number;
}

const MOST_HALF_OPEN = 16;
const MOST_REFUSED = 16;
const MOST_ANSWERS = 10;
const ANSWERS_MS = 1000;

export interface Guests {
  /** Whether an answer may be given now; counts it. */
  mayAnswer(now: number): boolean;
  refuse(invitation: Invitation, from: Address, now: number): void;
  refused(): readonly RefusedSeen[];
  /** Remembers somebody who was accepted on the control port. */
  open(guest: HalfOpen): void;
  /** Who was accepted, and has the same token and address. Forgets it. */
  close(invitation: Invitation, from: Address, now: number): HalfOpen | null;
}

export function createGuests(): Guests {
  let answers: number[] = [];
  let refused: RefusedSeen[] = [];
  let halfOpen: HalfOpen[] = [];
  return {
    mayAnswer(now) {
      answers = answers.filter((at) => now - at < ANSWERS_MS);
      if (answers.length >= MOST_ANSWERS) return false;
      answers.push(now);
      return true;
    },
    refuse({ name }, { host }, now) {
      const before = refused.find((one) => one.host === host && one.name === name);
      const others = refused.filter((one) => one !== before);
      refused = [{ name, host, at: now, count: (before?.count ?? 0) + 1 }, ...others].slice(0, MOST_REFUSED);
    },
    refused: () => refused,
    open(guest) {
      const others = halfOpen.filter((one) => !isSameAddress(one.control, guest.control));
      halfOpen = [...others.slice(1 - MOST_HALF_OPEN), guest];
    },
    close({ token, ssrc }, { host }, now) {
      halfOpen = halfOpen.filter(({ at }) => now - at < HALF_OPEN_MS);
      const guest = halfOpen.find(
        (one) => one.token === token && one.ssrc === ssrc && one.control.host === host,
      );
      halfOpen = halfOpen.filter((one) => one !== guest);
      return guest ?? null;
    },
  };
}
