/**
 * What is heard of a participant: packets are put in order, what was lost between them is made good from the journal (RFC 6295, section 4), and the rest
 * are its commands.
 */
import { decodeCommandSection, type CommandSection } from './command-section.js';
import { releasesOf } from './history/held.js';
import { createHistory, takeCommand, type History } from './history/history.js';
import { decodeJournal, type Journal } from './journal.js';
import { repair } from './repair/repair.js';
import { NetworkMidiError, type RtpPacket } from './rtp.js';
import { createSysexJoiner } from './sysex-segments.js';

export interface HeardCommand {
  /** A whole message. */
  bytes: Uint8Array;
  /** When it was played, in ticks of the sender’s clock, modulo 2^32; null for what was made good. */
  ticks: number | null;
}

export interface HeardPacket {
  /** In the order in which they are to be played. */
  commands: HeardCommand[];
  /** Packets that are missing before this one. */
  lost: number;
  /** Commands that were made good. */
  repaired: number;
  /** What could not be read, or made good, in words. */
  bad: string[];
}

export interface StreamIn {
  /**
   * Takes a packet.
   * @param now in ms
   * @returns `late` for one that was given up already, `twice` for one that was heard, `astray` for one far away from all others
   * @throws NetworkMidiError if it is no packet of MIDI
   */
  take(packet: RtpPacket, now: number): HeardPacket | 'late' | 'twice' | 'astray';
  /** The last packet, as its sender counts: 0–65535. Null before the first. */
  heardTo(): number | null;
  /** Releases what is down, because nothing comes any more. */
  release(now: number): Uint8Array[];
}

/** Sequence numbers that are further ahead, or behind, are of another stream until a second one follows (RFC 3550, appendix A.1). */
const MOST_AHEAD = 3000;
const MOST_BEHIND = 100;
const NUMBERS = 0x10000;
/** Packets that are remembered, to tell one that is late from one that comes twice. */
const REMEMBERED = 128;

/** Puts packets in order by their numbers, which are counted on beyond 65535. */
function createOrder() {
  let highest = -1;
  let strayed = -1;
  const heard = new Array<number>(REMEMBERED).fill(-1);

  function accept(number: number): { number: number; lost: number } {
    const lost = highest < 0 ? 0 : number - highest - 1;
    highest = number;
    heard[number % REMEMBERED] = number;
    strayed = -1;
    return { number, lost };
  }

  return {
    highest: () => highest,
    place(sequence: number): { number: number; lost: number } | 'late' | 'twice' | 'astray' {
      // There is room for late ones below the first.
      if (highest < 0) return accept(NUMBERS + sequence);
      const ahead = (sequence - highest) & (NUMBERS - 1);
      if (ahead > 0 && ahead < MOST_AHEAD) return accept(highest + ahead);
      const behind = (NUMBERS - ahead) % NUMBERS;
      if (behind <= MOST_BEHIND) {
        const number = highest - behind;
        if (heard[number % REMEMBERED] === number) return 'twice';
        heard[number % REMEMBERED] = number;
        return 'late';
      }
      if (sequence === strayed) return accept(highest + ahead);
      strayed = (sequence + 1) % NUMBERS;
      return 'astray';
    },
  };
}

/** @param sysexLimit octets that a system-exclusive message may have */
export function createStreamIn(sysexLimit: number): StreamIn {
  const order = createOrder();
  const history: History = createHistory();
  const joiner = createSysexJoiner(sysexLimit);
  let heardAt = -Infinity;

  function readJournal(section: CommandSection, bad: string[]): Journal | null {
    if (!section.journal) return null;
    try {
      return decodeJournal(section.journal);
    } catch (error) {
      if (!(error instanceof NetworkMidiError)) throw error;
      bad.push(`a journal that can’t be read: ${error.message}`);
      return null;
    }
  }

  /** Makes good what was lost before a packet. */
  function makeGood(section: CommandSection, number: number, lost: number, now: number, heard: HeardPacket) {
    const isFirst = heardAt === -Infinity;
    if (joiner.lose()) heard.bad.push('a system-exclusive message of which a part was lost');
    const journal = readJournal(section, heard.bad);
    if (!journal) return;
    const checkpoint = number - ((number - journal.checkpoint) & (NUMBERS - 1));
    const isCovered = isFirst || checkpoint <= number - lost;
    const loss = { packet: number, isFirst, isCovered, gapMs: now - heardAt, now };
    const { commands, lostSysex, isCut } = repair(history, journal, loss);
    heard.repaired = commands.length;
    for (const bytes of commands) heard.commands.push({ bytes, ticks: null });
    if (lostSysex > 0) heard.bad.push(`${lostSysex} system-exclusive messages were lost`);
    if (isCut) heard.bad.push('more was lost than a packet may make good');
    if (!isCovered) heard.bad.push('a journal that does not reach back to what was lost');
  }

  function play(bytes: Uint8Array, ticks: number, heard: HeardPacket): void {
    if (bytes[0] !== 0xf0 && bytes[0] !== 0xf7) {
      heard.commands.push({ bytes, ticks });
      return;
    }
    const whole = joiner.take(bytes);
    if (typeof whole === 'string') heard.bad.push(whole);
    else if (whole) heard.commands.push({ bytes: whole, ticks });
  }

  return {
    take(packet, now) {
      const section = decodeCommandSection(packet.payload);
      const placed = order.place(packet.sequence);
      if (typeof placed === 'string') return placed;
      const { number, lost } = placed;
      const heard: HeardPacket = { commands: [], lost, repaired: 0, bad: [] };
      if (lost > 0 || heardAt === -Infinity) makeGood(section, number, lost, now, heard);
      heardAt = now;
      for (const { after, bytes } of section.commands) {
        takeCommand(history, bytes, number, now);
        play(bytes, (packet.timestamp + after) >>> 0, heard);
      }
      if (section.bad) heard.bad.push(section.bad);
      return heard;
    },
    heardTo: () => (order.highest() < 0 ? null : order.highest() % NUMBERS),
    release(now) {
      const releases = releasesOf(history);
      for (const bytes of releases) takeCommand(history, bytes, Math.max(0, order.highest()), now);
      joiner.lose();
      return releases;
    },
  };
}
