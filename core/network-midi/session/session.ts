/**
 * A session of network MIDI: who takes part, what is played to them and heard of them. It is given the time and the packets, and opens no socket itself.
 * How machines invite each other, compare their clocks and part is what programs for network MIDI have in common (session-command); the payload is
 * RFC 6295.
 *
 * Whoever calls compares the clocks. Nobody is played to, or heard, before an exchange of clocks has shown that they are where they say. Who is not
 * invited gets at most an answer that is no longer than the question, ten times a second in all.
 */
import { decodeRtp, NetworkMidiError } from '../rtp.js';
import { decodeSessionCommand, isSessionCommand, type SessionCommand } from '../session-command.js';
import { PAYLOAD_TYPE, type OutgoingCommand } from '../stream-out.js';
import type { Call } from './calls.js';
import { createDoor, type Door } from './door.js';
import type { RefusedSeen } from './guests.js';
import { tell, type Port, type SessionHost, type SessionSettings } from './host.js';
import type { Address, Participant } from './participant.js';
import { createPlaying, type Playing } from './playing.js';
import { createRoster, type Roster } from './roster.js';
import {
  ASK_AGAIN_MS,
  FEEDBACK_MS,
  HALF_OPEN_MS,
  MOST_MISSES,
  QUIET_MS,
  SILENT_MS,
  syncAgainMs,
  UNCONFIRMED_MS,
} from './waits.js';

export interface Session {
  hear(port: Port, from: Address, bytes: Uint8Array, now: number): void;
  /** Plays commands that leave together. @returns false if nobody is there */
  play(commands: readonly OutgoingCommand[], now: number): boolean;
  /** When `wake` is due, in ms. */
  wakeAt(): number;
  wake(now: number): void;
  /** Calls a machine from now on. @param to its control port */
  call(to: Address): void;
  /** Calls it no more. One that is connected stays. */
  uncall(to: Address): void;
  participants(): readonly Participant[];
  calls(): readonly Call[];
  refused(): readonly RefusedSeen[];
  /** Says goodbye to everybody, and releases what they hold. */
  close(now: number): void;
}

const STRANGER = 'From somebody who is not in the session.';

export function createSession(settings: SessionSettings, host: SessionHost): Session {
  const { ssrc } = settings;
  const roster: Roster = createRoster(
    settings,
    host,
    (one, now) => {
      playing.forget();
      door.left(one, now);
    },
    (one, now) => playing.farewell(one, now),
  );
  const playing: Playing = createPlaying(settings, host, roster.all);
  const door: Door = createDoor(settings, host, roster, playing.last, synchronise);

  function synchronise(one: Participant, now: number): void {
    one.askedAt = now;
    one.syncAt = now + ASK_AGAIN_MS;
    tell(host, 'data', one.data, { kind: 'clock', ssrc, count: 0, times: one.clock.ask(now) });
  }

  function clock(one: Participant, { count, times }: SessionCommand & { kind: 'clock' }, now: number): void {
    const say = (next: 1 | 2, told: typeof times): void =>
      tell(host, 'data', one.data, { kind: 'clock', ssrc, count: next, times: told });
    if (count === 0) return say(1, one.clock.answer(times, now));
    if (count === 1) {
      const third = one.clock.answered(times, now);
      if (!third) return;
      say(2, third);
      one.syncAt = now + syncAgainMs(one.syncs++);
    } else if (!one.clock.closed(times, now)) return;
    roster.prove(one, now);
  }

  function hears(one: Participant, now: number): void {
    one.heardAt = now;
    one.isHushed = false;
  }

  /** Somebody who was in the session before we were started again may not know that we were. */
  function stranger(port: Port, from: Address, bytes: Uint8Array, now: number): void {
    host.bad(STRANGER, bytes);
    if (port === 'data') door.callBack({ host: from.host, port: from.port - 1 }, bytes.length, now);
  }

  function midi(bytes: Uint8Array, from: Address, now: number): void {
    const packet = decodeRtp(bytes);
    const one = roster.at('data', from, packet.ssrc);
    if (!one) return stranger('data', from, bytes, now);
    if (!one.isProven) return host.bad(STRANGER, bytes);
    if (packet.payloadType !== PAYLOAD_TYPE) return host.bad('RTP that is not MIDI.', bytes);
    hears(one, now);
    const heard = one.into.take(packet, now);
    one.feedbackAt = Math.min(one.feedbackAt, now + FEEDBACK_MS);
    if (heard === 'late') one.late++;
    if (typeof heard === 'string') return;
    one.lost += heard.lost;
    one.recovered += heard.repaired;
    if (heard.lost > 0) one.feedbackAt = now;
    for (const reason of heard.bad) host.bad(`From ${one.name}: ${reason}.`, bytes);
    for (const { bytes: message, ticks } of heard.commands)
      host.heard(
        one,
        message,
        one.clock.ageOf(ticks ?? packet.timestamp, now),
        ticks === null ? 'repaired' : 'played',
      );
  }

  function commanded(port: Port, from: Address, bytes: Uint8Array, now: number): void {
    const command = decodeSessionCommand(bytes);
    if ('token' in command) return door.hear(port, command, from, now);
    const one = roster.at(port, from, command.ssrc);
    if (!one) return stranger(port, from, bytes, now);
    hears(one, now);
    if (command.kind === 'clock') clock(one, command, now);
    else if (command.kind === 'feedback') playing.confirm(one, command.sequence);
    else one.bits = command.bits;
  }

  function confirmHeard(one: Participant): void {
    one.feedbackAt = Infinity;
    const sequence = one.into.heardTo();
    if (sequence !== null) tell(host, 'control', one.control, { kind: 'feedback', ssrc, sequence });
  }

  /** One that has not shown in time that it is where it says, or that is silent, is gone. */
  const goneAt = (one: Participant): number =>
    one.isProven ? one.heardAt + SILENT_MS : one.since + HALF_OPEN_MS;

  /** When the clocks are compared: as planned, and where somebody does not confirm what was played, to see whether it is there. */
  const syncAt = (one: Participant): number =>
    one.weCalled && !one.clock.isAsking()
      ? Math.min(one.syncAt, Math.max(one.behindSince, one.askedAt) + UNCONFIRMED_MS)
      : one.syncAt;

  const hushAt = (one: Participant): number => (one.isHushed ? Infinity : one.heardAt + QUIET_MS);

  /** Nothing comes any more, so that a release may never come. */
  function hush(one: Participant, now: number): void {
    one.isHushed = true;
    for (const bytes of one.into.release(now)) host.heard(one, bytes, 0, 'left');
  }

  /** True if the peer has left several questions about its clock unanswered, and has sent nothing else meanwhile. A slow peer is not deaf. */
  const isDeaf = (one: Participant, now: number): boolean =>
    one.clock.misses() >= MOST_MISSES && one.heardAt <= now - MOST_MISSES * ASK_AGAIN_MS;

  function lookAfter(one: Participant, now: number): void {
    if (goneAt(one) <= now || isDeaf(one, now)) return roster.expel(one, now);
    if (hushAt(one) <= now) hush(one, now);
    if (one.feedbackAt <= now) confirmHeard(one);
    if (syncAt(one) <= now) synchronise(one, now);
  }

  return {
    hear(port, from, bytes, now) {
      try {
        if (isSessionCommand(bytes)) commanded(port, from, bytes, now);
        else if (port === 'data') midi(bytes, from, now);
        else host.bad('No command of a session.', bytes);
      } catch (error) {
        if (!(error instanceof NetworkMidiError)) throw error;
        host.bad(`Not network MIDI: ${error.message}.`, bytes);
      }
    },
    play: playing.play,
    wakeAt: () =>
      roster
        .all()
        .reduce(
          (at, one) => Math.min(at, one.feedbackAt, syncAt(one), hushAt(one), goneAt(one)),
          Math.min(playing.wakeAt(), door.wakeAt()),
        ),
    wake(now) {
      door.wake(now);
      for (const one of roster.all()) lookAfter(one, now);
      if (playing.wakeAt() <= now) playing.wake(now);
    },
    call: door.call,
    uncall: door.uncall,
    participants: roster.all,
    calls: door.calls,
    refused: door.refused,
    close(now) {
      playing.finish(now);
      door.close();
      for (const one of roster.all()) roster.expel(one, now);
    },
  };
}
