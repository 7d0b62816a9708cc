/**
 * Streaming ACN data packets (ANSI E1.31-2018, from memory), over UDP port 5568.
 *
 * | bytes     | layer   | what                                                                 |
 * |-----------|---------|----------------------------------------------------------------------|
 * | 0–15      | root    | preamble size 0010h, postamble size 0, `ASC-E1.17` 0 0 0             |
 * | 16–17     | root    | flags 7h and length, from here to the end                            |
 * | 18–21     | root    | vector 4                                                             |
 * | 22–37     | root    | CID: the sender's own sixteen bytes                                  |
 * | 38–39     | framing | flags 7h and length                                                  |
 * | 40–43     | framing | vector 2                                                             |
 * | 44–107    | framing | source name, UTF-8, ended by 0                                       |
 * | 108       | framing | priority 0–200                                                       |
 * | 109–110   | framing | synchronisation universe                                             |
 * | 111       | framing | sequence 0–255                                                       |
 * | 112       | framing | options: 80h preview, 40h stream terminated                          |
 * | 113–114   | framing | universe 1–63,999                                                    |
 * | 115–116   | DMP     | flags 7h and length                                                  |
 * | 117       | DMP     | vector 2                                                             |
 * | 118       | DMP     | A1h                                                                  |
 * | 119–122   | DMP     | first address 0, increment 1                                         |
 * | 123–124   | DMP     | number of values: 1 and the levels                                   |
 * | 125       | DMP     | start code: 0 for levels                                             |
 * | 126–      | DMP     | 0–512 levels                                                         |
 */
import { Refusal } from '../refusal.js';

export const SACN_PORT = 5568;
export const SACN_UNIVERSES = { low: 1, high: 63_999 };
export const SACN_PRIORITY = { low: 0, high: 200, usual: 100 };

export interface SacnData {
  /** The sender's identity: sixteen bytes, as hexadecimal digits. */
  cid: string;
  sourceName: string;
  /** 0–200; the higher one wins. */
  priority: number;
  sequence: number;
  universe: number;
  /** True if it is a preview, which must not reach the stage. */
  preview: boolean;
  /** True if the source stops sending. */
  terminated: boolean;
  /** 0 for levels. */
  startCode: number;
  /** 0–512 levels, 0–255; when decoded, a view into the packet. */
  levels: Uint8Array;
}

export class SacnError extends Refusal {}

const HEAD = 126;
const PACKET_ID = Uint8Array.of(0x41, 0x53, 0x43, 0x2d, 0x45, 0x31, 0x2e, 0x31, 0x37, 0, 0, 0);
const PREVIEW = 0x80;
const TERMINATED = 0x40;
const NAME_BYTES = 64;
const utf8 = new TextDecoder('utf-8');
const utf8Out = new TextEncoder();

/** The multicast address of a universe: 239.255, then its two bytes (E1.31, 9.3.1). */
export const multicastAddress = (universe: number): string => `239.255.${universe >> 8}.${universe & 0xff}`;

/**
 * @returns null for a packet of E1.31 that carries no data, such as a synchronisation or discovery packet.
 * @throws SacnError, and nothing else, with what is wrong in words.
 */
export function decodeSacn(bytes: Uint8Array): SacnData | null {
  if (bytes.length < 38) throw new SacnError('a packet shorter than an sACN header');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint16(0) !== 0x10) throw new SacnError('a packet without the preamble of sACN');
  for (let i = 0; i < PACKET_ID.length; i++) {
    if (bytes[4 + i] !== PACKET_ID[i]) throw new SacnError('a packet without the identifier ASC-E1.17');
  }
  if (view.getUint32(18) !== 4) return null;
  if (bytes.length < HEAD) throw new SacnError('an sACN packet that breaks off');
  if (view.getUint32(40) !== 2 || bytes[117] !== 2 || bytes[118] !== 0xa1) {
    throw new SacnError('an sACN packet whose layers are of another kind');
  }
  const count = view.getUint16(123);
  if (count < 1 || count > 513) throw new SacnError(`an sACN packet that says it has ${count - 1} levels`);
  if (bytes.length < 125 + count) {
    throw new SacnError(
      `an sACN packet that says it has ${count - 1} levels, and has ${bytes.length - HEAD}`,
    );
  }
  const priority = bytes[108]!;
  if (priority > SACN_PRIORITY.high)
    throw new SacnError(`an sACN packet of priority ${priority}; 200 is the highest`);
  const name = bytes.subarray(44, 44 + NAME_BYTES);
  const nameEnd = name.indexOf(0);
  const options = bytes[112]!;
  return {
    cid: [...bytes.subarray(22, 38)].map((byte) => byte.toString(16).padStart(2, '0')).join(''),
    sourceName: utf8.decode(nameEnd < 0 ? name : name.subarray(0, nameEnd)),
    priority,
    sequence: bytes[111]!,
    universe: view.getUint16(113),
    preview: (options & PREVIEW) !== 0,
    terminated: (options & TERMINATED) !== 0,
    startCode: bytes[125]!,
    levels: bytes.subarray(HEAD, 125 + count),
  };
}

/** @throws RangeError if there are more than 512 levels, or the CID is not 32 hexadecimal digits. */
export function encodeSacn(data: SacnData): Uint8Array {
  if (data.levels.length > 512) throw new RangeError('a universe has 512 levels at most');
  if (!/^[0-9a-f]{32}$/i.test(data.cid)) throw new RangeError('a CID is 32 hexadecimal digits');
  const bytes = new Uint8Array(HEAD + data.levels.length);
  const view = new DataView(bytes.buffer);
  const flagsAndLength = (at: number): void => view.setUint16(at, 0x7000 | (bytes.length - at));
  view.setUint16(0, 0x10);
  bytes.set(PACKET_ID, 4);
  flagsAndLength(16);
  view.setUint32(18, 4);
  for (let i = 0; i < 16; i++) bytes[22 + i] = parseInt(data.cid.slice(i * 2, i * 2 + 2), 16);
  flagsAndLength(38);
  view.setUint32(40, 2);
  utf8Out.encodeInto(data.sourceName, bytes.subarray(44, 44 + NAME_BYTES - 1));
  bytes[108] = data.priority;
  bytes[111] = data.sequence;
  bytes[112] = (data.preview ? PREVIEW : 0) | (data.terminated ? TERMINATED : 0);
  view.setUint16(113, data.universe);
  flagsAndLength(115);
  bytes[117] = 2;
  bytes[118] = 0xa1;
  view.setUint16(121, 1);
  view.setUint16(123, data.levels.length + 1);
  bytes[125] = data.startCode;
  bytes.set(data.levels, HEAD);
  return bytes;
}

/**
 * Whether a packet comes too late to be used: its sequence is behind the last by less than twenty (E1.31, 6.7.2).
 * @param last the sequence of the packet before it from the same source
 */
export function isStale(last: number, sequence: number): boolean {
  const ahead = (((sequence - last + 128) & 0xff) - 128) | 0;
  return ahead <= 0 && ahead > -20;
}

const DISCOVERY_HEAD = 120;

/**
 * A universe discovery packet (E1.31, 8): which universes this source sends. It changes nothing on any stage.
 * @param universes at most 512, ascending. @throws RangeError if the CID is not 32 hexadecimal digits
 */
export function encodeSacnDiscovery(cid: string, sourceName: string, universes: number[]): Uint8Array {
  if (!/^[0-9a-f]{32}$/i.test(cid)) throw new RangeError('a CID is 32 hexadecimal digits');
  const bytes = new Uint8Array(DISCOVERY_HEAD + universes.length * 2);
  const view = new DataView(bytes.buffer);
  const flagsAndLength = (at: number): void => view.setUint16(at, 0x7000 | (bytes.length - at));
  view.setUint16(0, 0x10);
  bytes.set(PACKET_ID, 4);
  flagsAndLength(16);
  view.setUint32(18, 8);
  for (let i = 0; i < 16; i++) bytes[22 + i] = parseInt(cid.slice(i * 2, i * 2 + 2), 16);
  flagsAndLength(38);
  view.setUint32(40, 2);
  utf8Out.encodeInto(sourceName, bytes.subarray(44, 44 + NAME_BYTES - 1));
  flagsAndLength(112);
  view.setUint32(114, 1);
  universes.forEach((universe, at) => view.setUint16(DISCOVERY_HEAD + at * 2, universe));
  return bytes;
}
