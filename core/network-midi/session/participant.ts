/** One machine in a session, besides ours: its clock, what is heard of it, and what it has confirmed. */
import { createClockOffset } from '../../time/clock-offset.js';
import type { SessionCommand } from '../session-command.js';
import { createStreamIn, type StreamIn } from '../stream-in.js';
import { TICKS_PER_MS } from '../stream-out.js';

export interface Address {
  /** An IP address. */
  host: string;
  port: number;
}

/** The pair of ports of a machine: session commands go to one, MIDI to the next one. */
export interface Ports {
  control: Address;
  data: Address;
}

/** Latencies that are kept: those of about the last ten minutes. */
const MOST_LATENCIES = 60;

export interface Participant extends Ports {
  ssrc: number;
  name: string;
  /** Made up by who called. */
  token: number;
  weCalled: boolean;
  /** In ms by the clock of the session. */
  since: number;
  heardAt: number;
  /** True once what it holds was released, because nothing came any more; until something comes again. */
  isHushed: boolean;
  /** True once it has answered with what we sent, so that it is where it says. Nothing is played to it, or heard of it, before. */
  isProven: boolean;
  clock: PeerClock;
  /** When the clocks are compared next, where we do that; and how often they were. */
  syncAt: number;
  syncs: number;
  askedAt: number;
  into: StreamIn;
  /** The last of our packets that it has confirmed, or that was sent before it came; counted on beyond 65535. */
  confirmedTo: number;
  /** Since when something that was played to it is not confirmed, in ms; Infinity if all is. */
  behindSince: number;
  /** When it is told what was heard of it; Infinity for nothing new. */
  feedbackAt: number;
  lost: number;
  recovered: number;
  late: number;
  /** The most bits a second that it wants; null for no limit. */
  bits: number | null;
}

export const isSameAddress = (one: Address, other: Address): boolean =>
  one.host === other.host && one.port === other.port;

type Times = Extract<SessionCommand, { kind: 'clock' }>['times'];
const toTicks = (ms: number): bigint => BigInt(Math.round(ms * TICKS_PER_MS));
const toMs = (ticks: bigint): number => Number(ticks) / TICKS_PER_MS;

export interface PeerClock {
  /** Half of the shortest round trip of the last eight exchanges, in ms; Infinity before the first. */
  latencyMs(): number;
  /** How far the other clock is ahead of ours, in ms; null before the first exchange. */
  offsetMs(now: number): number | null;
  /** Half round trips, the oldest first. */
  latencies(): readonly { at: number; ms: number }[];
  /** Begins an exchange, or asks again. */
  ask(now: number): Times;
  /** Takes the answer to one of our questions. @returns the third message; null if nothing was asked so */
  answered(times: Times, now: number): Times | null;
  /** Answers a question. */
  answer(times: Times, now: number): Times;
  /** Takes the third message. @returns false if it does not belong to our answer */
  closed(times: Times, now: number): boolean;
  /** Whether a question waits for its answer, and how many were not answered in a row. */
  isAsking(): boolean;
  misses(): number;
  /** How long ago a command was played, in ms: 0 if the clocks can't say. @param ticks by the other clock, modulo 2^32 */
  ageOf(ticks: number, now: number): number;
}

/** A command can't be older, in ms: the clocks are wrong then. */
const OLDEST_MS = 10_000;
/** Our questions that may still be answered: those of eight seconds. */
const MOST_QUESTIONS = 16;
/** Our answers that may still be closed. */
const MOST_ANSWERS = 4;

export function createPeerClock(): PeerClock {
  const offset = createClockOffset();
  /** Questions without an answer, the oldest first: an answer may take longer than until the next question. */
  let asked: bigint[] = [];
  let misses = 0;
  let answers: { theirs: bigint; ours: bigint }[] = [];
  let latencies: { at: number; ms: number }[] = [];

  function measured(sentAt: number, other: bigint, now: number): void {
    if (now < sentAt) return;
    offset.answered(sentAt, toMs(other), now);
    latencies = [...latencies.slice(1 - MOST_LATENCIES), { at: now, ms: (now - sentAt) / 2 }];
  }

  return {
    latencyMs: () => offset.roundTrip() / 2,
    offsetMs: (now) => {
      const other = offset.toOther(now);
      return other === null ? null : other - now;
    },
    latencies: () => latencies,
    isAsking: () => asked.length > 0,
    misses: () => misses,
    ask(now) {
      if (asked.length > 0) misses++;
      const question = toTicks(now);
      asked = [...asked.slice(1 - MOST_QUESTIONS), question];
      return [question, 0n, 0n];
    },
    answered([first, second], now) {
      const at = asked.indexOf(first);
      if (at < 0) return null;
      asked = asked.slice(at + 1);
      misses = 0;
      measured(toMs(first), second, now);
      return [first, second, toTicks(now)];
    },
    answer([first], now) {
      const ours = toTicks(now);
      answers = [...answers.slice(1 - MOST_ANSWERS), { theirs: first, ours }];
      return [first, ours, 0n];
    },
    closed([first, second, third], now) {
      const isOurs = answers.some(({ theirs, ours }) => theirs === first && ours === second);
      if (isOurs) measured(toMs(second), third, now);
      return isOurs;
    },
    ageOf(ticks, now) {
      const other = offset.toOther(now);
      if (other === null) return 0;
      const age = ((Math.round(other * TICKS_PER_MS) - ticks) | 0) / TICKS_PER_MS;
      return age > 0 && age <= OLDEST_MS ? age : 0;
    },
  };
}

/** @param sysexLimit octets that a system-exclusive message may have. @param confirmedTo the last packet that was sent before it came */
export function createParticipant(
  given: Ports & Pick<Participant, 'ssrc' | 'name' | 'token' | 'weCalled'>,
  { sysexLimit, confirmedTo, now }: { sysexLimit: number; confirmedTo: number; now: number },
): Participant {
  return {
    ...given,
    since: now,
    heardAt: now,
    isHushed: false,
    isProven: false,
    clock: createPeerClock(),
    syncAt: given.weCalled ? now : Infinity,
    syncs: 0,
    askedAt: -Infinity,
    into: createStreamIn(sysexLimit),
    confirmedTo,
    behindSince: Infinity,
    feedbackAt: Infinity,
    lost: 0,
    recovered: 0,
    late: 0,
    bits: null,
  };
}
