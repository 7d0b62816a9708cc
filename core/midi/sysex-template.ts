/**
 * System-exclusive as people type it: bytes in hexadecimal, with places for the value.
 *
 * | written | what                                                                                     |
 * |---------|------------------------------------------------------------------------------------------|
 * | `F0`–`F7`, `00`–`7F` | that byte; F0 first and F7 last may be left out                                |
 * | `vv`    | the value, 0–127                                                                         |
 * | `hh` `ll` | the value's high and low seven bits, 0–16,383                                          |
 * | `|`     | from here on the checksum counts                                                         |
 * | `xx`    | where it is heard: any byte                                                              |
 * | `ck`    | the byte that makes the sum of what counts, and itself, a multiple of 128 (common practice) |
 */
import type { Typed } from '../typed/range.js';

type Part = number | 'vv' | 'hh' | 'll' | 'ck' | 'xx';

export interface SysexTemplate {
  parts: Part[];
  /** The index of the first byte that the checksum includes. */
  sumFrom: number;
  /** The largest value that its places can hold; 1 if it has none, and is only sent or not. */
  high: number;
}

const HINT =
  'Write bytes like F0 7D 01 vv F7: vv is the value, hh ll its high and low seven bits, | … ck a checksum.';
const MOST_BYTES = 256;

function readPart(word: string, heard: boolean): Part | null {
  const lower = word.toLowerCase();
  if (heard && lower === 'xx') return lower;
  if (lower === 'vv' || lower === 'hh' || lower === 'll' || lower === 'ck') return lower;
  return /^[0-9a-f]{1,2}$/.test(lower) ? parseInt(lower, 16) : null;
}

/** @param heard true if it is used to recognise messages: then it may have places for any byte */
export function readSysexTemplate(text: string, heard = false): Typed<SysexTemplate> {
  const words = text
    .replaceAll('|', ' | ')
    .trim()
    .split(/[\s,]+/)
    .filter(Boolean);
  const parts: Part[] = [];
  let sumFrom = -1;
  for (const word of words) {
    if (word === '|') {
      sumFrom = parts.length;
      continue;
    }
    const part = readPart(word, heard);
    if (part === null) return { ok: false, reason: `“${word}” is no byte. ${HINT}` };
    parts.push(part);
  }
  if (parts[0] !== 0xf0) {
    parts.unshift(0xf0);
    if (sumFrom >= 0) sumFrom++;
  }
  if (parts.at(-1) !== 0xf7) parts.push(0xf7);
  const inner = parts.slice(1, -1);
  if (inner.length === 0) return { ok: false, reason: `There is nothing between F0 and F7. ${HINT}` };
  if (parts.length > MOST_BYTES) return { ok: false, reason: `At most ${MOST_BYTES} bytes.` };
  const high = inner.find((part) => typeof part === 'number' && part > 0x7f);
  if (high !== undefined)
    return {
      ok: false,
      reason: `${high.toString(16).toUpperCase()} can’t be inside: data bytes go from 00 to 7F.`,
    };
  const checks = parts.flatMap((part, at) => (part === 'ck' ? [at] : []));
  if (checks.length > 1) return { ok: false, reason: 'One checksum is enough.' };
  if (checks.length === 1 && (sumFrom < 0 || sumFrom >= checks[0]!))
    return { ok: false, reason: 'Put | before the first byte that the checksum ck counts.' };
  const wide = parts.includes('hh') || parts.includes('ll');
  return { ok: true, value: { parts, sumFrom, high: wide ? 16_383 : parts.includes('vv') ? 127 : 1 } };
}

/** Writes a value, a whole number from 0 to `high`, into the places. @param into a buffer with a byte for each part of the template */
export function fillSysex({ parts, sumFrom }: SysexTemplate, value: number, into: Uint8Array): void {
  let sum = 0;
  parts.forEach((part, at) => {
    const byte = byteOf(part, value, sum);
    if (sumFrom >= 0 && at >= sumFrom) sum += byte;
    into[at] = byte;
  });
}

function byteOf(part: Part, value: number, sum: number): number {
  if (typeof part === 'number') return part;
  if (part === 'hh') return (value >> 7) & 0x7f;
  return part === 'ck' ? (128 - (sum & 0x7f)) & 0x7f : value & 0x7f;
}

/** The bytes that are the same in every message of the template, from its beginning. */
export function fixedStart({ parts }: SysexTemplate): number[] {
  const end = parts.findIndex((part) => typeof part !== 'number');
  return (end < 0 ? parts : parts.slice(0, end)) as number[];
}

/** @returns the value in the places, 1 if there are none; null if the bytes do not match the template */
export function matchSysex({ parts, sumFrom }: SysexTemplate, bytes: Uint8Array): number | null {
  if (bytes.length !== parts.length) return null;
  let sum = 0;
  let value: number | null = null;
  for (let at = 0; at < parts.length; at++) {
    const part = parts[at]!;
    const byte = bytes[at]!;
    if (typeof part === 'number' ? byte !== part : byte > 0x7f) return null;
    if (part === 'ck' && byte !== ((128 - (sum & 0x7f)) & 0x7f)) return null;
    if (part === 'vv') value = byte;
    else if (part === 'hh') value = (value ?? 0) | (byte << 7);
    else if (part === 'll') value = (value ?? 0) | byte;
    if (sumFrom >= 0 && at >= sumFrom) sum += byte;
  }
  return value ?? 1;
}
