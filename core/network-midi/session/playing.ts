/**
 * What is played to everybody: packets, what is confirmed of them, and packets without commands until all is, so that what was lost last is made good
 * (RFC 6295, appendix C.2.2.2, and section 4 of RFC 4696 on guard packets). Where a participant wants fewer bits a second, packets leave further apart,
 * and what is played meanwhile leaves together.
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
  /** When what waits leaves, or a packet without commands is due, in ms. */
  wakeAt(): number;
  wake(now: number): void;
  /** Plays what still waits. */
  finish(now: number): void;
  /** Releases what we hold at somebody who leaves, and who gets nothing after that. */
  farewell(one: Participant, now: number): void;
}

/** No participant slows the session to less than a MIDI cable carries. */
const LEAST_BITS = 31_250;
/** Commands that wait for their turn. More leave at once. */
const MOST_WAITING = 4096;

export function createPlaying(
  { ssrc, firstSequence }: SessionSettings,
  host: SessionHost,
  participants: () => readonly Participant[],
): Playing {
  const out = createStreamOut(ssrc, firstSequence);
  let guardAt = Infinity;
  let guards = 0;
  let waiting: OutgoingCommand[] = [];
  /** Until when nothing leaves, for somebody who wants fewer bits. */
  let notBefore = -Infinity;

  const isBehind = (one: Participant): boolean => one.isProven && one.confirmedTo < out.lastSaid;

  function forget(): void {
    const confirmed = participants().reduce((least, one) => Math.min(least, one.confirmedTo), out.next - 1);
    out.forget(confirmed + 1);
    if (!participants().some(isBehind)) guardAt = Infinity;
    if (participants().every(({ bits }) => bits === null)) notBefore = -Infinity;
  }

  function sendPackets(commands: readonly OutgoingCommand[], now: number): void {
    let bits = Infinity;
    for (const one of participants()) if (one.isProven) bits = Math.min(bits, one.bits ?? Infinity);
    for (const bytes of out.packets(commands, now)) {
      for (const one of participants()) if (one.isProven) host.send('data', one.data, bytes);
      notBefore = Math.max(now, notBefore) + (bytes.length * 8000) / Math.max(bits, LEAST_BITS);
    }
    for (const one of participants()) if (isBehind(one)) one.behindSince = Math.min(one.behindSince, now);
  }

  function playNow(commands: readonly OutgoingCommand[], now: number): void {
    waiting = [];
    sendPackets(commands, now);
    guards = 0;
    guardAt = now + guardMs(guards);
  }

  return {
    last: () => out.next - 1,
    play(commands, now) {
      if (!participants().some(({ isProven }) => isProven)) return false;
      if (now < notBefore && waiting.length + commands.length <= MOST_WAITING) waiting.push(...commands);
      else playNow([...waiting, ...commands], now);
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
    wakeAt: () => (waiting.length > 0 ? notBefore : Math.max(guardAt, notBefore)),
    wake(now) {
      if (waiting.length > 0) return playNow(waiting, now);
      sendPackets([], now);
      guardAt = now + guardMs(++guards);
    },
    finish(now) {
      if (waiting.length > 0) playNow(waiting, now);
    },
    farewell(one, now) {
      if (!one.isProven) return;
      // Twice, since nobody confirms it: what was heard already is passed over.
      for (const bytes of out.farewell(now))
        for (let times = 0; times < 2; times++) host.send('data', one.data, bytes);
    },
  };
}
