/**
 * The commands by which two machines begin, keep and end a session, bytes to fields and back. They are no part of RFC 6295: this is what programs for
 * network MIDI have in common. Each begins with FF FF, which no RTP packet does, and two letters; all numbers are big-endian.
 *
 * | letters     | what it is                    | then                                                                  |
 * |-------------|-------------------------------|-----------------------------------------------------------------------|
 * | IN, OK, NO  | invitation, accepted, refused | version 2 (4 octets), token (4), SSRC (4), a name that ends with 0    |
 * | BY          | goodbye                       | version 2 (4), token (4), SSRC (4)                                    |
 * | CK          | clock synchronisation         | SSRC (4), count 0–2 (1), nothing (3), three times of 8 octets         |
 * | RS          | receiver feedback             | SSRC (4), sequence number (2), nothing (2)                            |
 * | RL          | most bits a second            | SSRC (4), bits (4)                                                    |
 */
import { NetworkMidiError } from './rtp.js';

export const HELLOS = ['invitation', 'accepted', 'refused', 'goodbye'] as const;
type Hello = (typeof HELLOS)[number];

export type SessionCommand =
  /** The token is made up by who invites. A goodbye has no name. */
  | { kind: Hello; token: number; ssrc: number; name: string }
  /** Times in ticks of 0.1 ms by the clock of who wrote them: the first and third by who asks, the second by who answers. */
  | { kind: 'clock'; ssrc: number; count: 0 | 1 | 2; times: [bigint, bigint, bigint] }
  /** The last packet that was heard without a gap before it. */
  | { kind: 'feedback'; ssrc: number; sequence: number }
  | { kind: 'bitrate'; ssrc: number; bits: number };

const LETTERS: Record<SessionCommand['kind'], string> = {
  invitation: 'IN',
  accepted: 'OK',
  refused: 'NO',
  goodbye: 'BY',
  clock: 'CK',
  feedback: 'RS',
  bitrate: 'RL',
};
const KINDS = new Map(
  Object.entries(LETTERS).map(([kind, letters]) => [letters, kind as SessionCommand['kind']]),
);
const SIGNATURE = 0xffff;
const VERSION = 2;
/** Octets of a name that are read and written. */
export const LONGEST_NAME = 255;
/** The length of each with all that it must have. */
const SHORTEST: Record<SessionCommand['kind'], number> = {
  invitation: 16,
  accepted: 16,
  refused: 16,
  goodbye: 16,
  clock: 36,
  // Some leave the last two octets out.
  feedback: 10,
  bitrate: 12,
};

const utf8 = new TextDecoder('utf-8');
const utf8Out = new TextEncoder();

/** Whether bytes are a command of the session, and no RTP packet. */
export const isSessionCommand = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && bytes[0] === 0xff && bytes[1] === 0xff;

function readName(bytes: Uint8Array): string {
  const name = bytes.subarray(0, LONGEST_NAME);
  const end = name.indexOf(0);
  return utf8.decode(end < 0 ? name : name.subarray(0, end));
}

/** @throws NetworkMidiError if it is none, or of another version */
export function decodeSessionCommand(bytes: Uint8Array): SessionCommand {
  const kind = isSessionCommand(bytes) && KINDS.get(String.fromCharCode(bytes[2]!, bytes[3]!));
  if (!kind) throw new NetworkMidiError('a command of the session that nobody knows');
  if (bytes.length < SHORTEST[kind]) throw new NetworkMidiError('a command of the session that breaks off');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (kind === 'clock') {
    const count = view.getUint8(8);
    if (count > 2) throw new NetworkMidiError('a clock synchronisation with a count beyond 2');
    const times = [12, 20, 28].map((at) => view.getBigUint64(at)) as [bigint, bigint, bigint];
    return { kind, ssrc: view.getUint32(4), count: count as 0 | 1 | 2, times };
  }
  if (kind === 'feedback') return { kind, ssrc: view.getUint32(4), sequence: view.getUint16(8) };
  if (kind === 'bitrate') return { kind, ssrc: view.getUint32(4), bits: view.getUint32(8) };
  if (view.getUint32(4) !== VERSION) throw new NetworkMidiError('a session of another version');
  const name = kind === 'goodbye' ? '' : readName(bytes.subarray(16));
  return { kind, token: view.getUint32(8), ssrc: view.getUint32(12), name };
}

/** Writes a name, shortened between two characters if it is too long. */
function nameBytes(name: string): Uint8Array {
  const bytes = new Uint8Array(LONGEST_NAME);
  // A 0 would end it.
  const { written } = utf8Out.encodeInto(name.replaceAll('\0', ''), bytes.subarray(0, LONGEST_NAME - 1));
  return bytes.subarray(0, written + 1);
}

export function encodeSessionCommand(command: SessionCommand): Uint8Array {
  const named = 'name' in command && command.kind !== 'goodbye' ? nameBytes(command.name) : new Uint8Array(0);
  const length = command.kind === 'feedback' ? 12 : SHORTEST[command.kind];
  const bytes = new Uint8Array(length + named.length);
  const view = new DataView(bytes.buffer);
  const letters = LETTERS[command.kind];
  view.setUint16(0, SIGNATURE);
  view.setUint8(2, letters.charCodeAt(0));
  view.setUint8(3, letters.charCodeAt(1));
  if ('token' in command) {
    view.setUint32(4, VERSION);
    view.setUint32(8, command.token);
    view.setUint32(12, command.ssrc);
    bytes.set(named, 16);
    return bytes;
  }
  view.setUint32(4, command.ssrc);
  if (command.kind === 'feedback') view.setUint16(8, command.sequence);
  else if (command.kind === 'bitrate') view.setUint32(8, command.bits);
  else {
    view.setUint8(8, command.count);
    command.times.forEach((time, at) => view.setBigUint64(12 + at * 8, time));
  }
  return bytes;
}
