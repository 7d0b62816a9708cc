/**
 * The MIDI command section of a packet, bytes to commands and back (RFC 6295, section 3).
 *
 * Header: B (long header), J (a journal follows), Z (the first command has a delta time), P (the first status was left out at its source), and the
 * length of the list: 4 bits, or 12 with B. The list: delta times of 1 to 4 octets, each before a command (section 3.1); running status as on a cable,
 * though the first channel command has its status (section 3.2). Parts of a system-exclusive message are commands too (sysex-segments.ts).
 */
import { dataLength } from '../midi/message.js';
import { Refusal } from '../refusal.js';
import { NetworkMidiError } from './rtp.js';

/** The longest list, in octets. */
export const LONGEST_LIST = 0xfff;
const LONGEST_SHORT = 0xf;
/** The longest delta time, in ticks of the timestamp: 28 bits. */
export const LONGEST_DELTA = 0xfff_ffff;

export interface TimedCommand {
  /** Ticks after the timestamp of the packet. */
  after: number;
  /** With its status. */
  bytes: Uint8Array;
}

export interface CommandSection {
  commands: TimedCommand[];
  /** True if the status of the first channel command was left out where it came from. */
  phantom: boolean;
  /** Why the list could not be read to its end; null if it could. The commands before are there. */
  bad: string | null;
  /** What follows the section; null for nothing. */
  journal: Uint8Array | null;
}

class Broken extends Refusal {}

/** What a system-exclusive message or a part of one ends with. F5: the F7 was left out at its source. */
const TAILS = [0xf0, 0xf5, 0xf7];

/** Reads a list of commands. */
class ListReader {
  private at = 0;
  private running = 0;

  constructor(private readonly list: Uint8Array) {}

  get over(): boolean {
    return this.at >= this.list.length;
  }

  /** A delta time in ticks (section 3.1, figure 4). */
  delta(): number {
    let value = 0;
    for (let octets = 0; octets < 4; octets++) {
      if (this.over) break;
      const octet = this.list[this.at++]!;
      value = value * 128 + (octet & 0x7f);
      if (octet < 0x80) return value;
    }
    throw new Broken('a delta time without its end');
  }

  command(): Uint8Array {
    const first = this.list[this.at]!;
    if (first >= 0xf8) return this.list.slice(this.at, ++this.at);
    if (first === 0xf0 || first === 0xf7) return this.exclusive();
    if (first === 0xf4 || first === 0xf5) throw new Broken('an undefined status byte');
    const isRunning = first < 0x80;
    const status = isRunning ? this.running : first;
    if (status === 0) throw new Broken('a data byte without a status');
    if (!isRunning) this.at++;
    // System common cancels running status (section 3.2).
    this.running = status < 0xf0 ? status : 0;
    const length = dataLength(status);
    const bytes = new Uint8Array(1 + length);
    bytes[0] = status;
    for (let n = 1; n <= length; n++) {
      if (this.over || this.list[this.at]! >= 0x80) throw new Broken('a command that breaks off');
      bytes[n] = this.list[this.at++]!;
    }
    return bytes;
  }

  /** A system-exclusive message or a part of one, up to the octet that ends it. */
  private exclusive(): Uint8Array {
    this.running = 0;
    let end = this.at + 1;
    while (end < this.list.length && this.list[end]! < 0x80) end++;
    const bytes = this.list.slice(this.at, end + 1);
    const tail = this.list[end];
    const isCancel = bytes[0] === 0xf7 && bytes.length === 2 && tail === 0xf4;
    if (!isCancel && (tail === undefined || !TAILS.includes(tail)))
      throw new Broken('a system-exclusive message that breaks off');
    this.at = end + 1;
    return bytes;
  }
}

/** @param payload of an RTP packet. @throws NetworkMidiError if the header does not fit the payload */
export function decodeCommandSection(payload: Uint8Array): CommandSection {
  const first = payload[0];
  const isLong = first !== undefined && first >= 0x80;
  if (first === undefined || (isLong && payload.length < 2))
    throw new NetworkMidiError('a packet without its list of commands');
  const begin = isLong ? 2 : 1;
  const length = isLong ? ((first & 0x0f) << 8) | payload[1]! : first & 0x0f;
  if (begin + length > payload.length) throw new NetworkMidiError('a list of commands that breaks off');
  const section: CommandSection = {
    commands: [],
    phantom: (first & 0x10) !== 0,
    bad: null,
    journal: first & 0x40 ? payload.subarray(begin + length) : null,
  };
  const reader = new ListReader(payload.subarray(begin, begin + length));
  let after = 0;
  try {
    for (let hasDelta = (first & 0x20) !== 0; !reader.over; hasDelta = true) {
      if (hasDelta) after += reader.delta();
      // A list may end with time in which nothing happens (section 3.1).
      if (!reader.over) section.commands.push({ after, bytes: reader.command() });
    }
  } catch (error) {
    if (!(error instanceof Broken)) throw error;
    section.bad = error.message;
  }
  return section;
}

function writeDelta(delta: number, out: number[]): void {
  if (!Number.isInteger(delta) || delta < 0 || delta > LONGEST_DELTA)
    throw new RangeError(`a delta time is 0 to ${LONGEST_DELTA} ticks: ${delta}`);
  for (const shift of [21, 14, 7]) if (delta >= 2 ** shift) out.push(0x80 | ((delta >> shift) & 0x7f));
  out.push(delta & 0x7f);
}

/**
 * @param commands in the order of their times, each with its status
 * @param hasJournal whether a journal follows
 * @throws RangeError if the list is longer than 4095 octets, or a time between two commands longer than 2^28 - 1 ticks
 */
export function encodeCommandSection(commands: readonly TimedCommand[], hasJournal: boolean): Uint8Array {
  const list: number[] = [];
  let running = 0;
  let before = 0;
  commands.forEach(({ after, bytes }, at) => {
    if (at > 0 || after > 0) writeDelta(after - before, list);
    before = after;
    const status = bytes[0]!;
    const isSame = status < 0xf0 && status === running;
    for (const byte of isSame ? bytes.subarray(1) : bytes) list.push(byte);
    // Real-time commands leave running status as it is.
    if (status < 0xf8) running = status < 0xf0 ? status : 0;
  });
  if (list.length > LONGEST_LIST)
    throw new RangeError(`a list has ${LONGEST_LIST} octets at most: ${list.length}`);
  const flags = (hasJournal ? 0x40 : 0) | (commands[0] && commands[0].after > 0 ? 0x20 : 0);
  const header =
    list.length <= LONGEST_SHORT
      ? [flags | list.length]
      : [0x80 | flags | (list.length >> 8), list.length & 0xff];
  return Uint8Array.from([...header, ...list]);
}
