/** The MIDI in an RTP packet (RFC 6295, section 3), whose header a package reads that is not ours. */
import { packets } from 'rtp.js';

/** The payload type that machines use for it by custom. */
const PAYLOAD_TYPE = 97;

export interface MidiPacket {
  sequence: number;
  ssrc: number;
  commands: number[][];
  journal: Uint8Array | null;
}

/** Data bytes after a status of a channel or of the system. */
function dataBytes(status: number): number {
  if (status >= 0xf0) return { 0xf1: 1, 0xf2: 2, 0xf3: 1 }[status] ?? 0;
  return status >= 0xc0 && status < 0xe0 ? 1 : 2;
}

function readCommands(list: Uint8Array, isFirstTimed: boolean): number[][] {
  const commands: number[][] = [];
  let at = 0;
  let running = 0;
  for (let isTimed = isFirstTimed; at < list.length; isTimed = true) {
    if (isTimed) {
      while (list[at]! >= 0x80) at++;
      at++;
    }
    if (at >= list.length) break;
    if (list[at] === 0xf0 || list[at] === 0xf7) {
      const begin = at++;
      while (at < list.length && list[at]! < 0x80) at++;
      commands.push([...list.subarray(begin, ++at)]);
      running = 0;
      continue;
    }
    const status = list[at]! >= 0x80 ? list[at++]! : running;
    if (status === 0) throw new RangeError('a data byte without a status');
    if (status < 0xf8) running = status < 0xf0 ? status : 0;
    const end = at + dataBytes(status);
    commands.push([status, ...list.subarray(at, end)]);
    at = end;
  }
  return commands;
}

/** @throws if it is no such packet */
export function readPacket(bytes: Uint8Array): MidiPacket {
  const packet = new packets.RtpPacket(new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  const { buffer, byteOffset, byteLength } = packet.getPayload();
  const payload = new Uint8Array(buffer, byteOffset, byteLength);
  const header = payload[0]!;
  const begin = header & 0x80 ? 2 : 1;
  const length = header & 0x80 ? ((header & 0x0f) << 8) | payload[1]! : header & 0x0f;
  return {
    sequence: packet.getSequenceNumber(),
    ssrc: packet.getSsrc(),
    commands: readCommands(payload.subarray(begin, begin + length), (header & 0x20) !== 0),
    journal: header & 0x40 ? payload.subarray(begin + length) : null,
  };
}

/** Writes a packet with one command of at most 15 octets, and without a journal. */
export function writePacket(
  ssrc: number,
  sequence: number,
  timestamp: number,
  command: readonly number[],
): Uint8Array {
  const packet = new packets.RtpPacket();
  packet.setPayloadType(PAYLOAD_TYPE);
  packet.setSsrc(ssrc);
  packet.setSequenceNumber(sequence);
  packet.setTimestamp(timestamp);
  packet.setMarker(true);
  packet.setPayload(new DataView(Uint8Array.of(command.length, ...command).buffer));
  const bytes = new Uint8Array(packet.getByteLength());
  packet.serialize(bytes.buffer);
  return bytes;
}
