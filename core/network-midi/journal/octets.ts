/** Reads octets within bounds, and writes them. */
import { NetworkMidiError } from '../rtp.js';

export class OctetReader {
  private at = 0;

  constructor(private readonly bytes: Uint8Array) {}

  get left(): number {
    return this.bytes.length - this.at;
  }

  /** @throws NetworkMidiError if there is none left */
  u8(): number {
    if (this.left < 1) throw new NetworkMidiError('a journal that breaks off');
    return this.bytes[this.at++]!;
  }

  u16(): number {
    return (this.u8() << 8) | this.u8();
  }

  /** The next octets, as a reader of their own. */
  part(length: number): OctetReader {
    if (length < 0 || length > this.left) throw new NetworkMidiError('a journal that breaks off');
    const part = this.bytes.subarray(this.at, this.at + length);
    this.at += length;
    return new OctetReader(part);
  }

  /** An element that begins with a header which says how long all of it is. The header is part of it. @param length of all, with the header */
  element(length: number, header: number): OctetReader {
    return this.part(length - header);
  }

  rest(): Uint8Array {
    const rest = this.bytes.subarray(this.at);
    this.at = this.bytes.length;
    return rest;
  }
}

/** How a chapter is read and written. */
export interface Coding<T> {
  read(from: OctetReader): T;
  write(chapter: T): number[];
}

/** A flag as a bit. @param bit 7 for the highest one */
export const flag = (on: boolean, bit: number): number => (on ? 1 << bit : 0);
export const has = (octet: number, bit: number): boolean => ((octet >> bit) & 1) === 1;
/** The seven low bits. */
export const seven = (octet: number): number => octet & 0x7f;
