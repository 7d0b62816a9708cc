/**
 * The 80 bits of one frame of linear timecode (SMPTE ST 12-1, from memory), in the order in which they are sent. Numbers are in BCD, low bit first.
 *
 * | bits         | what                     | bits         | what                     |
 * |--------------|--------------------------|--------------|--------------------------|
 * | 0–3          | frames, ones             | 32–35        | minutes, ones            |
 * | 8–9          | frames, tens             | 40–42        | minutes, tens            |
 * | 10           | drop-frame flag          | 43           | flag, see below          |
 * | 11           | colour frame flag        | 48–51        | hours, ones              |
 * | 16–19        | seconds, ones            | 56–57        | hours, tens              |
 * | 24–26        | seconds, tens            | 58           | flag: clock              |
 * | 27           | flag, see below          | 59           | flag, see below          |
 * | 4–7, 12–15 … | eight groups of user bits, every eight bits | 64–79 | sync word   |
 *
 * The polarity bit is 27, and at 25 frames a second 59. It makes the number of zeros even, so that every frame begins with the same transition.
 */
import { RATES, type FrameRate } from '../frame-rate.js';
import { partsOf, type TimecodeParts } from '../timecode.js';

export const WORD_BITS = 80;
/** Bits 64 to 79. */
export const SYNC = [0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1] as const;
const SYNC_AT = 64;
const DROP_BIT = 10;
const USER_AT = [4, 12, 20, 28, 36, 44, 52, 60] as const;

const FIELDS = [
  { at: 0, width: 4, of: 'frames', tens: false },
  { at: 8, width: 2, of: 'frames', tens: true },
  { at: 16, width: 4, of: 'seconds', tens: false },
  { at: 24, width: 3, of: 'seconds', tens: true },
  { at: 32, width: 4, of: 'minutes', tens: false },
  { at: 40, width: 3, of: 'minutes', tens: true },
  { at: 48, width: 4, of: 'hours', tens: false },
  { at: 56, width: 2, of: 'hours', tens: true },
] as const;

export const polarityBit = (rate: FrameRate): number => (RATES[rate].base === 25 ? 59 : 27);

function put(bits: Uint8Array, at: number, width: number, value: number): void {
  for (let bit = 0; bit < width; bit++) bits[at + bit] = (value >> bit) & 1;
}

function get(bits: ArrayLike<number>, at: number, width: number): number {
  let value = 0;
  for (let bit = 0; bit < width; bit++) value |= bits[at + bit]! << bit;
  return value;
}

/** Writes the bits of a frame. @param user eight groups of user bits, 0–15 each. @param into 80 bits, each 0 or 1 */
export function writeWord(
  frame: number,
  rate: FrameRate,
  into: Uint8Array,
  user: readonly number[] = [],
): void {
  const parts = partsOf(frame, rate);
  into.fill(0);
  for (const { at, width, of, tens } of FIELDS)
    put(into, at, width, tens ? Math.floor(parts[of] / 10) : parts[of] % 10);
  if (RATES[rate].drop) into[DROP_BIT] = 1;
  USER_AT.forEach((at, group) => put(into, at, 4, user[group] ?? 0));
  SYNC.forEach((bit, at) => (into[SYNC_AT + at] = bit));
  let zeros = 0;
  for (let bit = 0; bit < WORD_BITS; bit++) if (into[bit] === 0) zeros++;
  // Setting the bit takes one zero away.
  if (zeros % 2 === 1) into[polarityBit(rate)] = 1;
}

export interface Word {
  parts: TimecodeParts;
  drop: boolean;
  /** Eight groups, 0–15 each. */
  user: number[];
}

/** Reads the bits of a frame. @returns null if the sync word is missing, or the numbers are none */
export function readWord(bits: ArrayLike<number>): Word | null {
  for (let at = 0; at < SYNC.length; at++) if (bits[SYNC_AT + at] !== SYNC[at]) return null;
  const parts = { hours: 0, minutes: 0, seconds: 0, frames: 0 };
  for (const { at, width, of, tens } of FIELDS) {
    const digit = get(bits, at, width);
    if (digit > 9) return null;
    parts[of] += tens ? digit * 10 : digit;
  }
  if (parts.hours > 23 || parts.minutes > 59 || parts.seconds > 59 || parts.frames > 29) return null;
  return { parts, drop: bits[DROP_BIT] === 1, user: USER_AT.map((at) => get(bits, at, 4)) };
}
