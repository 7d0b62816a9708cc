/**
 * RTP packets, bytes to fields and back (RFC 3550, section 5.1; for MIDI: RFC 6295, section 2.1).
 *
 * | octets | holds                                                             |
 * |--------|-------------------------------------------------------------------|
 * | 0      | version 2 (2 bits), padding, extension, count of contributors (4) |
 * | 1      | marker, payload type (7 bits)                                     |
 * | 2–3    | sequence number                                                   |
 * | 4–7    | timestamp                                                         |
 * | 8–11   | SSRC: the number of the sender                                    |
 * | 12–    | contributors of 4 octets each, an extension, the payload, padding |
 *
 * All numbers are big-endian.
 */
import { Refusal } from '../refusal.js';

export class NetworkMidiError extends Refusal {}

export interface RtpPacket {
  marker: boolean;
  /** 0–127. */
  payloadType: number;
  /** 0–65535. */
  sequence: number;
  /** 0–2^32 - 1. */
  timestamp: number;
  /** 0–2^32 - 1. */
  ssrc: number;
  /** A part of the bytes that were read, and no copy. */
  payload: Uint8Array;
}

const HEADER = 12;
const VERSION = 2;

const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** @throws NetworkMidiError if it is no RTP packet */
export function decodeRtp(bytes: Uint8Array): RtpPacket {
  if (bytes.length < HEADER) throw new NetworkMidiError('a packet that is shorter than its header');
  const view = viewOf(bytes);
  const first = view.getUint8(0);
  if (first >> 6 !== VERSION) throw new NetworkMidiError('a packet of another version of RTP');
  let begin = HEADER + (first & 0x0f) * 4;
  if (first & 0x10) {
    if (begin + 4 > bytes.length) throw new NetworkMidiError('a packet that is shorter than its header');
    begin += 4 + view.getUint16(begin + 2) * 4;
  }
  // The last octet of the padding counts all of it, itself too.
  const padding = first & 0x20 ? bytes[bytes.length - 1]! : 0;
  const end = bytes.length - padding;
  if ((first & 0x20 && padding === 0) || begin > end)
    throw new NetworkMidiError('a packet that is shorter than its header');
  const second = view.getUint8(1);
  return {
    marker: second >> 7 === 1,
    payloadType: second & 0x7f,
    sequence: view.getUint16(2),
    timestamp: view.getUint32(4),
    ssrc: view.getUint32(8),
    payload: bytes.subarray(begin, end),
  };
}

/** Writes a packet without contributors, extension and padding. Numbers beyond their range are taken modulo. */
export function encodeRtp({
  marker,
  payloadType,
  sequence,
  timestamp,
  ssrc,
  payload,
}: RtpPacket): Uint8Array {
  const bytes = new Uint8Array(HEADER + payload.length);
  const view = viewOf(bytes);
  view.setUint8(0, VERSION << 6);
  view.setUint8(1, (marker ? 0x80 : 0) | (payloadType & 0x7f));
  view.setUint16(2, sequence);
  view.setUint32(4, timestamp);
  view.setUint32(8, ssrc);
  bytes.set(payload, HEADER);
  return bytes;
}
