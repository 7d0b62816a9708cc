/**
 * The recovery journal of a packet: what the packets before it said, as far as somebody may have lost it (RFC 6295, section 5). Octets to fields and
 * back; what is to be told, and what is done about it, is decided elsewhere.
 *
 * Header: S, Y (the system's journal is there), A (channels are there), H (a controller is told by several commands), the count of channels less one,
 * and the number of the checkpoint packet, the first that it tells of.
 */
import {
  readChannelChapters,
  writeChannelChapters,
  type ChannelChapters,
} from './journal/channel-chapters.js';
import { flag, has, OctetReader } from './journal/octets.js';
import { readSystemChapters, writeSystemChapters, type SystemChapters } from './journal/system-chapters.js';

export interface ChannelJournal {
  single: boolean;
  /** 0–15. */
  channel: number;
  enhanced: boolean;
  chapters: ChannelChapters;
}

export interface Journal {
  /** True if nothing in it is of the packet just before (S, appendix A.1). */
  single: boolean;
  enhanced: boolean;
  /** The first packet that it tells of: 0–65535. */
  checkpoint: number;
  system: { single: boolean; chapters: SystemChapters } | null;
  /** By their channels, each once. */
  channels: ChannelJournal[];
}

const LONGEST = 0x3ff;

function readSystem(from: OctetReader): Journal['system'] {
  const header = from.u16();
  const body = from.element(header & LONGEST, 2);
  return { single: header >> 15 === 1, chapters: readSystemChapters(header >> 8, body) };
}

function readChannel(from: OctetReader): ChannelJournal {
  const header = from.u16();
  const body = from.element(header & LONGEST, 2);
  return {
    single: header >> 15 === 1,
    channel: (header >> 11) & 0x0f,
    enhanced: ((header >> 10) & 1) === 1,
    chapters: readChannelChapters(body.u8(), body),
  };
}

/** @param octets what follows the list of commands. @throws NetworkMidiError if it can't be read */
export function decodeJournal(octets: Uint8Array): Journal {
  const from = new OctetReader(octets);
  const header = from.u8();
  const journal: Journal = {
    single: has(header, 7),
    enhanced: has(header, 4),
    checkpoint: from.u16(),
    system: has(header, 6) ? readSystem(from) : null,
    channels: [],
  };
  const count = has(header, 5) ? (header & 0x0f) + 1 : 0;
  for (let n = 0; n < count; n++) journal.channels.push(readChannel(from));
  return journal;
}

function lengthOf(octets: number): number {
  if (octets > LONGEST)
    throw new RangeError(`a journal of a channel has ${LONGEST} octets at most: ${octets}`);
  return octets;
}

/** @throws RangeError if a part is longer than its length can say */
export function encodeJournal({ single, enhanced, checkpoint, system, channels }: Journal): Uint8Array {
  const out = [
    flag(single, 7) |
      flag(system !== null, 6) |
      flag(channels.length > 0, 5) |
      flag(enhanced, 4) |
      Math.max(0, channels.length - 1),
    checkpoint >> 8,
    checkpoint & 0xff,
  ];
  if (system) {
    const { contents, octets } = writeSystemChapters(system.chapters);
    const length = lengthOf(octets.length + 2);
    out.push(flag(system.single, 7) | contents | (length >> 8), length & 0xff);
    for (const octet of octets) out.push(octet);
  }
  for (const one of channels) {
    const { contents, octets } = writeChannelChapters(one.chapters);
    const length = lengthOf(octets.length + 3);
    const header = flag(one.single, 7) | (one.channel << 3) | flag(one.enhanced, 2) | (length >> 8);
    out.push(header, length & 0xff, contents);
    for (const octet of octets) out.push(octet);
  }
  return Uint8Array.from(out);
}
