/**
 * Art-Net 4 packets for DMX levels, timecode, poll and poll reply, over UDP port 6454 (Art-Net 4 Protocol Release, from memory).
 *
 * | bytes   | ArtDmx                                     | ArtPoll               | ArtPollReply                     |
 * |---------|--------------------------------------------|-----------------------|----------------------------------|
 * | 0–7     | `Art-Net` 0                                | the same              | the same                         |
 * | 8–9     | opcode 5000h, low byte first               | 2000h                 | 2100h                            |
 * | 10–11   | protocol version 14, high byte first       | the same              | 10–13 IP address, 14–15 port     |
 * | 12      | sequence 1–255; 0: not in use              | flags                 | 16–17 firmware version           |
 * | 13      | physical port                              | lowest priority       | 18 net, 19 subnet                |
 * | 14      | universe, low eight bits                   |                       | 26–43 short name                 |
 * | 15      | universe, high seven bits                  |                       | 44–107 long name                 |
 * | 16–17   | length, high byte first: even, 2–512       |                       | 172–173 number of ports          |
 * | 18–     | the levels                                 |                       | 174–… what each port is          |
 *
 * ArtTimeCode, opcode 9700h: 10–11 protocol version 14, 12–13 zeros (a stream's number since 2023), 14 frames, 15 seconds, 16 minutes, 17 hours,
 * 18 type: 0 film (24), 1 EBU (25), 2 drop-frame (29.97), 3 SMPTE (30). They are the codes of MIDI timecode.
 */
import { exists } from '../timecode/timecode.js';
import { RATE_OF_CODE } from '../timecode/frame-rate.js';
import { Refusal } from '../refusal.js';

export const ARTNET_PORT = 6454;
/** Universes are 15 bits: net (7), subnet (4), universe (4). */
export const ARTNET_UNIVERSES = 32_768;
const ID = Uint8Array.of(0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0);
const OP_DMX = 0x5000;
const OP_POLL = 0x2000;
const OP_POLL_REPLY = 0x2100;
const OP_TIMECODE = 0x9700;
const TIMECODE_LENGTH = 19;
const VERSION = 14;
const REPLY_LENGTH = 239;

export interface ArtDmx {
  kind: 'dmx';
  /** 0–32,767 */
  universe: number;
  /** 1–255 and round again; 0 where the sender does not count. */
  sequence: number;
  /** 2–512 levels, 0–255; a view into the packet. */
  levels: Uint8Array;
}

export interface ArtPollReply {
  kind: 'pollReply';
  /** Four numbers 0–255. */
  address: [number, number, number, number];
  /** At most 17 letters of ASCII. */
  shortName: string;
  /** At most 63 letters of ASCII. */
  longName: string;
  /** What it sends out of its ports, up to four universes of one net and subnet. */
  universes: number[];
}

export interface ArtTimecode {
  kind: 'timecode';
  hours: number;
  minutes: number;
  seconds: number;
  frames: number;
  /** 0–3, as core/timecode/frame-rate lists it. */
  code: number;
}

export type ArtPacket =
  ArtDmx | ArtTimecode | { kind: 'poll' } | ArtPollReply | { kind: 'other'; opcode: number };

export class ArtNetError extends Refusal {}

const textAt = (bytes: Uint8Array, at: number, most: number): string => {
  let text = '';
  for (let i = at; i < at + most && bytes[i] !== 0; i++) text += String.fromCharCode(bytes[i]!);
  return text;
};

/** @throws ArtNetError, and nothing else, with what is wrong in words. An opcode that is not ours comes out as `other`. */
export function decodeArtNet(bytes: Uint8Array): ArtPacket {
  if (bytes.length < 10) throw new ArtNetError('a packet shorter than an Art-Net header');
  for (let i = 0; i < ID.length; i++)
    if (bytes[i] !== ID[i]) throw new ArtNetError('a packet that does not begin with Art-Net');
  const opcode = bytes[8]! | (bytes[9]! << 8);
  switch (opcode) {
    case OP_DMX:
      return decodeDmx(bytes);
    case OP_TIMECODE:
      return decodeTimecodePacket(bytes);
    case OP_POLL:
      // Controllers of earlier versions send it shorter; all that is needed is that it came.
      return { kind: 'poll' };
    case OP_POLL_REPLY:
      return decodePollReply(bytes);
    default:
      return { kind: 'other', opcode };
  }
}

function decodeDmx(bytes: Uint8Array): ArtDmx {
  if (bytes.length < 18) throw new ArtNetError('a DMX packet that breaks off in its header');
  const version = (bytes[10]! << 8) | bytes[11]!;
  if (version < VERSION) throw new ArtNetError(`a DMX packet of protocol version ${version}; 14 is needed`);
  const length = (bytes[16]! << 8) | bytes[17]!;
  if (length < 1 || length > 512) throw new ArtNetError(`a DMX packet that says it has ${length} levels`);
  if (bytes.length < 18 + length) {
    throw new ArtNetError(`a DMX packet that says it has ${length} levels, and has ${bytes.length - 18}`);
  }
  const universe = bytes[14]! | ((bytes[15]! & 0x7f) << 8);
  return { kind: 'dmx', universe, sequence: bytes[12]!, levels: bytes.subarray(18, 18 + length) };
}

function decodeTimecodePacket(bytes: Uint8Array): ArtTimecode {
  if (bytes.length < TIMECODE_LENGTH) throw new ArtNetError('a timecode packet that breaks off');
  const [frames, seconds, minutes, hours, code] = bytes.subarray(14, TIMECODE_LENGTH) as unknown as [
    number,
    number,
    number,
    number,
    number,
  ];
  const rate = RATE_OF_CODE[code];
  if (!rate) throw new ArtNetError(`a timecode packet of type ${code}; types are 0 to 3`);
  if (!exists({ hours, minutes, seconds, frames }, rate))
    throw new ArtNetError(`a timecode that does not exist: ${hours}:${minutes}:${seconds}:${frames}`);
  return { kind: 'timecode', hours, minutes, seconds, frames, code };
}

function decodePollReply(bytes: Uint8Array): ArtPollReply {
  // Fields after the port lists were added over the years.
  if (bytes.length < 194) throw new ArtNetError('a poll reply that breaks off');
  const ports = Math.min(4, bytes[173]!);
  const base = ((bytes[18]! & 0x7f) << 8) | ((bytes[19]! & 0x0f) << 4);
  const universes: number[] = [];
  for (let port = 0; port < ports; port++)
    if (bytes[174 + port]! & 0x80) universes.push(base | (bytes[190 + port]! & 0x0f));
  const address: ArtPollReply['address'] = [bytes[10]!, bytes[11]!, bytes[12]!, bytes[13]!];
  return {
    kind: 'pollReply',
    address,
    shortName: textAt(bytes, 26, 18),
    longName: textAt(bytes, 44, 64),
    universes,
  };
}

function header(length: number, opcode: number): Uint8Array {
  const bytes = new Uint8Array(length);
  bytes.set(ID);
  bytes[8] = opcode & 0xff;
  bytes[9] = opcode >> 8;
  return bytes;
}

/** @param levels 1–512 levels 0–255; an odd number is filled up with a 0, since the length must be even. */
export function encodeArtDmx(universe: number, sequence: number, levels: Uint8Array): Uint8Array {
  const length = Math.max(2, levels.length + (levels.length & 1));
  const bytes = header(18 + length, OP_DMX);
  bytes[11] = VERSION;
  bytes[12] = sequence;
  bytes[14] = universe & 0xff;
  bytes[15] = universe >> 8;
  bytes[16] = length >> 8;
  bytes[17] = length & 0xff;
  bytes.set(levels, 18);
  return bytes;
}

export function encodeArtTimecode({
  hours,
  minutes,
  seconds,
  frames,
  code,
}: Omit<ArtTimecode, 'kind'>): Uint8Array {
  const bytes = header(TIMECODE_LENGTH, OP_TIMECODE);
  bytes[11] = VERSION;
  bytes.set([frames, seconds, minutes, hours, code], 14);
  return bytes;
}

export function encodeArtPoll(): Uint8Array {
  const bytes = header(14, OP_POLL);
  bytes[11] = VERSION;
  return bytes;
}

/** @param reply its universes must be of one net and subnet; at most four. */
export function encodeArtPollReply(reply: Omit<ArtPollReply, 'kind'>): Uint8Array {
  const bytes = header(REPLY_LENGTH, OP_POLL_REPLY);
  bytes.set(reply.address, 10);
  bytes[14] = ARTNET_PORT & 0xff;
  bytes[15] = ARTNET_PORT >> 8;
  const [first = 0] = reply.universes;
  bytes[18] = first >> 8;
  bytes[19] = (first >> 4) & 0x0f;
  for (let i = 0; i < Math.min(17, reply.shortName.length); i++)
    bytes[26 + i] = reply.shortName.charCodeAt(i) & 0x7f;
  for (let i = 0; i < Math.min(63, reply.longName.length); i++)
    bytes[44 + i] = reply.longName.charCodeAt(i) & 0x7f;
  const universes = reply.universes.slice(0, 4);
  bytes[173] = universes.length;
  universes.forEach((universe, port) => {
    bytes[174 + port] = 0x80; // an output, of DMX512
    bytes[182 + port] = 0x80; // which is being sent
    bytes[190 + port] = universe & 0x0f;
  });
  return bytes;
}
