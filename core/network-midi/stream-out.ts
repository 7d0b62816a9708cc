/**
 * The packets that a session sends: commands, and a journal of what was said since the checkpoint, by the closed-loop policy (RFC 6295, appendix
 * C.2.2.2). All participants get the same packets.
 */
import { encodeCommandSection, LONGEST_LIST, type TimedCommand } from './command-section.js';
import { releasesOf } from './history/held.js';
import { createHistory, takeCommand } from './history/history.js';
import { encodeJournal } from './journal.js';
import { encodeRtp } from './rtp.js';
import { splitSysex } from './sysex-segments.js';
import { tellHistory } from './telling.js';

/** The payload type that programs for network MIDI have in common; one of the dynamic ones (RFC 3551). */
export const PAYLOAD_TYPE = 97;
/** A tick of the timestamps is 0.1 ms, as programs for network MIDI have in common. */
export const TICKS_PER_MS = 10;
/** The octets of commands in a packet, so that it fits into a datagram of a usual network with a usual journal. */
const MOST_OCTETS = 1000;
/** The longest delta time before a command, in octets. */
const DELTA_OCTETS = 4;

export interface OutgoingCommand {
  /** When it is played, in ms by our clock. */
  at: number;
  /** With its status. */
  bytes: Uint8Array;
}

export interface StreamOut {
  /** The number of the next packet, counted on beyond 65535. */
  readonly next: number;
  /** The last packet that said something; -1 for none. */
  readonly lastSaid: number;
  /**
   * Returns the packets for some commands; one without commands if there are none.
   * @param commands in the order of their times
   */
  packets(commands: readonly OutgoingCommand[], now: number): Uint8Array[];
  /**
   * Returns packets that release what is held, for somebody who gets none after them; empty if nothing is held. The stream goes on for the others as if
   * they had never been.
   */
  farewell(now: number): Uint8Array[];
  /** Journals tell of what was said from this packet on. */
  forget(checkpoint: number): void;
  /** The number of a packet that was sent, from its lowest 16 bits; null if there is none. */
  numberOf(sequence: number): number | null;
}

const asTicks = (ms: number): number => Math.round(ms * TICKS_PER_MS);

/** Divides commands among packets. */
function* portions(commands: readonly OutgoingCommand[]): Generator<OutgoingCommand[]> {
  let portion: OutgoingCommand[] = [];
  let octets = 0;
  for (const { at, bytes } of commands) {
    const parts = bytes[0] === 0xf0 ? splitSysex(bytes, MOST_OCTETS - DELTA_OCTETS) : [bytes];
    for (const part of parts) {
      if (octets + part.length + DELTA_OCTETS > MOST_OCTETS && portion.length > 0) {
        yield portion;
        portion = [];
        octets = 0;
      }
      portion.push({ at, bytes: part });
      octets += part.length + DELTA_OCTETS;
    }
  }
  yield portion;
}

/** @param firstSequence 0–65535, made up anew for each session (RFC 3550, section 5.1) */
export function createStreamOut(ssrc: number, firstSequence: number): StreamOut {
  const history = createHistory();
  let next = firstSequence;
  let checkpoint = firstSequence;
  let lastSaid = -1;

  function packet(portion: readonly OutgoingCommand[], number: number, now: number): Uint8Array {
    const begin = asTicks(portion[0]?.at ?? now);
    const commands = portion.map(({ at, bytes }): TimedCommand => {
      // Times in a packet never go back, and a command waits at most for the clock to be set.
      return { after: Math.max(0, Math.min(LONGEST_LIST, asTicks(at) - begin)), bytes };
    });
    const section = encodeCommandSection(commands, true);
    const journal = encodeJournal(tellHistory(history, checkpoint, number, now));
    const payload = new Uint8Array(section.length + journal.length);
    payload.set(section);
    payload.set(journal, section.length);
    const sequence = number & 0xffff;
    // The marker is set where there are commands (section 2.1).
    const marker = portion.length > 0;
    return encodeRtp({ marker, payloadType: PAYLOAD_TYPE, sequence, timestamp: begin >>> 0, ssrc, payload });
  }

  function say(portion: readonly OutgoingCommand[], now: number): Uint8Array {
    const made = packet(portion, next, now);
    for (const { at, bytes } of portion) takeCommand(history, bytes, next, at);
    if (portion.length > 0) lastSaid = next;
    next++;
    return made;
  }

  return {
    get next() {
      return next;
    },
    get lastSaid() {
      return lastSaid;
    },
    packets: (commands, now) => [...portions(commands)].map((portion) => say(portion, now)),
    farewell(now) {
      const commands = releasesOf(history).map((bytes) => ({ at: now, bytes }));
      if (commands.length === 0) return [];
      return [...portions(commands)].map((portion, at) => packet(portion, next + at, now));
    },
    forget(from) {
      checkpoint = Math.max(checkpoint, Math.min(from, next));
    },
    numberOf(sequence) {
      const number = next - ((next - sequence) & 0xffff);
      return number < next && number >= firstSequence ? number : null;
    },
  };
}
