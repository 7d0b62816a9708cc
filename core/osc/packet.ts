/**
 * OSC 1.0 packets, bytes to signals and back (Open Sound Control 1.0 Specification).
 *
 * Message:  address, comma and type tags, arguments.       ("OSC Messages")
 * Bundle:   `#bundle`, 8-byte time tag, then for each element its int32 size and content. ("OSC Bundles")
 * Strings and blobs are padded with zeros to a multiple of four bytes; numbers are big-endian. ("Atomic Data Types")
 *
 * | tag | holds                    | bytes                      |
 * |-----|--------------------------|----------------------------|
 * | i   | int32                    | 4                          |
 * | f   | float32                  | 4                          |
 * | s   | string                   | its length + 1, padded     |
 * | b   | blob                     | 4 + its length, padded     |
 * | h   | int64                    | 8                          |
 * | d   | float64                  | 8                          |
 * | T F N I | true, false, nil, impulse | none                  |
 */
import { Refusal } from '../refusal.js';
import type { OscArgument, OscSignal } from '../signal.js';

/** Time tag of a bundle that is to be acted on at once: 63 zero bits and a one ("OSC Bundles"). */
export const IMMEDIATELY = 1n;
const BUNDLE_TAG = '#bundle';
/** Bundles in bundles deeper than this are refused, so that no packet can use up the stack. */
const DEEPEST = 8;
/** Messages of one packet; more than any show sends at once. */
const MOST_MESSAGES = 1000;
/** Arguments of one message. */
const MOST_ARGUMENTS = 1000;

export class OscError extends Refusal {}

/** A message out of a packet. `timeTag` is that of the innermost bundle around it: NTP seconds << 32 | fraction. */
export interface OscDecoded {
  signal: OscSignal;
  timeTag: bigint;
}

const utf8 = new TextDecoder('utf-8');
const utf8Out = new TextEncoder();
const padded = (length: number): number => (length + 3) & ~3;

interface Reader {
  bytes: Uint8Array;
  view: DataView;
  at: number;
  end: number;
}

function readString(r: Reader): string {
  let end = r.at;
  let plain = true;
  while (end < r.end && r.bytes[end] !== 0) {
    if (r.bytes[end]! > 127) plain = false;
    end++;
  }
  if (end >= r.end) throw new OscError('a string without its end');
  let text = '';
  if (plain && end - r.at < 128) {
    for (let i = r.at; i < end; i++) text += String.fromCharCode(r.bytes[i]!);
  } else text = utf8.decode(r.bytes.subarray(r.at, end));
  const next = r.at + padded(end - r.at + 1);
  if (next > r.end) throw new OscError('a string without its padding');
  r.at = next;
  return text;
}

function take(r: Reader, length: number): number {
  const at = r.at;
  if (at + length > r.end) throw new OscError('an argument that breaks off');
  r.at += length;
  return at;
}

function readArgument(r: Reader, tag: string): OscArgument {
  switch (tag) {
    case 'i':
      return { type: 'i', value: r.view.getInt32(take(r, 4)) };
    case 'f':
      return { type: 'f', value: r.view.getFloat32(take(r, 4)) };
    case 'd':
      return { type: 'd', value: r.view.getFloat64(take(r, 8)) };
    case 'h':
      return { type: 'h', value: r.view.getBigInt64(take(r, 8)) };
    case 's':
      return { type: 's', value: readString(r) };
    case 'b': {
      const length = r.view.getInt32(take(r, 4));
      if (length < 0 || length > r.end - r.at) throw new OscError('a blob longer than its message');
      const at = take(r, padded(length));
      return { type: 'b', value: r.bytes.slice(at, at + length) };
    }
    case 'T':
    case 'F':
    case 'N':
    case 'I':
      return { type: tag };
    default:
      throw new OscError(`the type tag “${tag}”, which OSC 1.0 does not have`);
  }
}

function readMessage(r: Reader): OscSignal {
  const address = readString(r);
  if (address.charCodeAt(0) !== 47) throw new OscError('an address that does not begin with /');
  const args: OscArgument[] = [];
  // "Older implementations may omit the type tag string": then there is nothing that says what the bytes are.
  if (r.at === r.end) return { kind: 'osc', address, args };
  const tags = readString(r);
  if (tags.charCodeAt(0) !== 44) throw new OscError('type tags that do not begin with a comma');
  if (tags.length - 1 > MOST_ARGUMENTS) throw new OscError(`more than ${MOST_ARGUMENTS} arguments`);
  for (let i = 1; i < tags.length; i++) args.push(readArgument(r, tags[i]!));
  if (r.at !== r.end) throw new OscError('bytes left over after the last argument');
  return { kind: 'osc', address, args };
}

function readElement(r: Reader, timeTag: bigint, depth: number, out: OscDecoded[]): void {
  if (r.bytes[r.at] !== 0x23) {
    if (out.length >= MOST_MESSAGES) throw new OscError(`more than ${MOST_MESSAGES} messages in one bundle`);
    out.push({ signal: readMessage(r), timeTag });
    return;
  }
  if (depth >= DEEPEST) throw new OscError('bundles nested too deeply');
  if (readString(r) !== BUNDLE_TAG) throw new OscError('a packet that is neither a message nor a bundle');
  const tag = r.view.getBigUint64(take(r, 8));
  const { end } = r;
  while (r.at < end) {
    const size = r.view.getInt32(take(r, 4));
    if (size <= 0 || size % 4 !== 0 || size > end - r.at)
      throw new OscError('a bundle element of a wrong size');
    r.end = r.at + size;
    readElement(r, tag, depth + 1, out);
    r.at = r.end;
    r.end = end;
  }
}

/**
 * Decodes a packet: one message, or all the messages of a bundle in their order.
 * @throws OscError, and nothing else, with what is wrong in words.
 */
export function decodeOsc(bytes: Uint8Array): OscDecoded[] {
  if (bytes.length === 0 || bytes.length % 4 !== 0)
    throw new OscError('a packet whose length is not a multiple of four');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out: OscDecoded[] = [];
  readElement({ bytes, view, at: 0, end: bytes.length }, IMMEDIATELY, 0, out);
  return out;
}

function stringBytes(text: string): number {
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) > 127) return utf8Out.encode(text).length;
  return text.length;
}

/** How many bytes a message takes; always a multiple of four. */
export function oscLength(signal: OscSignal): number {
  let length = padded(stringBytes(signal.address) + 1) + padded(signal.args.length + 2);
  for (const arg of signal.args) {
    switch (arg.type) {
      case 'i':
      case 'f':
        length += 4;
        break;
      case 'd':
      case 'h':
        length += 8;
        break;
      case 's':
        length += padded(stringBytes(arg.value) + 1);
        break;
      case 'b':
        length += 4 + padded(arg.value.length);
        break;
      default:
    }
  }
  return length;
}

function writeString(text: string, into: Uint8Array, at: number): number {
  let i = 0;
  for (; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 127) {
      i = utf8Out.encodeInto(text, into.subarray(at)).written;
      break;
    }
    into[at + i] = code;
  }
  const end = at + padded(i + 1);
  into.fill(0, at + i, end);
  return end;
}

function writeArgument(arg: OscArgument, into: Uint8Array, view: DataView, at: number): number {
  switch (arg.type) {
    case 'i':
      view.setInt32(at, arg.value);
      return at + 4;
    case 'f':
      view.setFloat32(at, arg.value);
      return at + 4;
    case 'd':
      view.setFloat64(at, arg.value);
      return at + 8;
    case 'h':
      view.setBigInt64(at, arg.value);
      return at + 8;
    case 's':
      return writeString(arg.value, into, at);
    case 'b': {
      view.setInt32(at, arg.value.length);
      into.set(arg.value, at + 4);
      const end = at + 4 + padded(arg.value.length);
      into.fill(0, at + 4 + arg.value.length, end);
      return end;
    }
    default:
      return at;
  }
}

/** Writes a message into `into` at `offset`. @returns how many bytes. Throws a RangeError if they don't fit. */
export function encodeOscInto(signal: OscSignal, into: Uint8Array, view: DataView, offset: number): number {
  if (offset + oscLength(signal) > into.length) throw new RangeError('no room for an OSC message');
  let at = writeString(signal.address, into, offset);
  const tagsAt = at;
  into[at++] = 44;
  for (const arg of signal.args) into[at++] = arg.type.charCodeAt(0);
  const end = tagsAt + padded(signal.args.length + 2);
  into.fill(0, at, end);
  at = end;
  for (const arg of signal.args) at = writeArgument(arg, into, view, at);
  return at - offset;
}

export function encodeOsc(signal: OscSignal): Uint8Array {
  const bytes = new Uint8Array(oscLength(signal));
  encodeOscInto(signal, bytes, new DataView(bytes.buffer), 0);
  return bytes;
}

/** A bundle of messages. @param timeTag NTP seconds << 32 | fraction; IMMEDIATELY by default. */
export function encodeOscBundle(signals: OscSignal[], timeTag: bigint = IMMEDIATELY): Uint8Array {
  const elements = signals.map(encodeOsc);
  const bytes = new Uint8Array(elements.reduce((sum, element) => sum + 4 + element.length, 16));
  const view = new DataView(bytes.buffer);
  writeString(BUNDLE_TAG, bytes, 0);
  view.setBigUint64(8, timeTag);
  let at = 16;
  for (const element of elements) {
    view.setInt32(at, element.length);
    bytes.set(element, at + 4);
    at += 4 + element.length;
  }
  return bytes;
}
