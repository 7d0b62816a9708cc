/**
 * What is played to everybody: packets, what is confirmed of them, and packets without commands until all is, so that what was lost last is made good
 * (RFC 6295, appendix C.2.2.2, and section 4 of RFC 4696 on guard packets).
 */
import { createStreamOut, type OutgoingCommand } from '../stream-out.js';
import type { SessionHost, SessionSettings } from './host.js';
import type { Participant } from './participant.js';
import { guardMs } from './waits.js';

export interface Playing {
  /** The last packet that was sent, counted on beyond 65535. */
  last(): number;
  /** Plays commands that leave together. @returns false if nobody is there */
  play(commands: readonly OutgoingCommand[], now: number): boolean;
  /** A participant has confirmed a packet: 0–65535. */
  confirm(one: Participant, sequence: number): void;
  /** Forgets what everybody has confirmed. */
  forget(): void;
  /** When a packet without commands is due, in ms. */
  guardAt(): number;
  guard(now: number): void;
}

export function createPlaying(
  { ssrc, firstSequence }: SessionSettings,
  host: SessionHost,
  participants: () => readonly Participant[],
): Playing {
  const out = createStreamOut(ssrc, firstSequence);
  let guardAt = Infinity;
  let guards = 0;

  const isBehind = (one: Participant): boolean => one.isProven && one.confirmedTo < out.lastSaid;

  function forget(): void {
    const confirmed = participants().reduce((least, one) => Math.min(least, one.confirmedTo), out.next - 1);
    out.forget(confirmed + 1);
    if (!participants().some(isBehind)) guardAt = Infinity;
  }

  function sendPackets(commands: readonly OutgoingCommand[], now: number): void {
    for (const bytes of out.packets(commands, now))
      for (const one of participants()) if (one.isProven) host.send('data', one.data, bytes);
  }

  return {
    last: () => out.next - 1,
    play(commands, now) {
      if (!participants().some(({ isProven }) => isProven)) return false;
      sendPackets(commands, now);
      for (const one of participants()) if (isBehind(one)) one.behindSince = Math.min(one.behindSince, now);
      guards = 0;
      guardAt = now + guardMs(guards);
      return true;
    },
    confirm(one, sequence) {
      const number = out.numberOf(sequence);
      if (number === null || number <= one.confirmedTo) return;
      one.confirmedTo = number;
      if (!isBehind(one)) one.behindSince = Infinity;
      forget();
    },
    forget,
    guardAt: () => guardAt,
    guard(now) {
      sendPackets([], now);
      guardAt = now + guardMs(++guards);
    },
  };
}
