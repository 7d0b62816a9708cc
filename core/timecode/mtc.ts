/**
 * MIDI timecode (MIDI Timecode, RP-004/008, from memory).
 *
 * Quarter frame `F1 0pppdddd`: piece ppp of eight, four bits of the time each, a quarter of a frame apart. The eight say the time of the frame that
 * piece 0 begins, so they are two frames old when they are complete. Backward, the pieces come from 7 to 0.
 *
 * | piece | bits                                                      |
 * |-------|-----------------------------------------------------------|
 * | 0, 1  | frames, low and high                                      |
 * | 2, 3  | seconds                                                   |
 * | 4, 5  | minutes                                                   |
 * | 6, 7  | hours, low four bits; `0rrh`: rate and the fifth bit      |
 *
 * Full message `F0 7F <device> 01 01 0rrhhhhh mm ss ff F7`: the time at once, sent when it jumps or stands still.
 */
import type { SystemSignal, SysexSignal } from '../signal.js';
import { RATE_OF_CODE, RATES, type FrameRate } from './frame-rate.js';
import { exists, partsOf, type TimecodeParts } from './timecode.js';

export const QUARTER_FRAME = 0xf1;
export const PIECES = 8;
/** Frames that a set of eight pieces spans. */
export const FRAMES_A_SET = 2;

/** The data byte of one piece. @param piece 0–7 */
export function quarterFrameByte(piece: number, parts: TimecodeParts, rate: FrameRate): number {
  const { hours, minutes, seconds, frames } = parts;
  const values = [frames, seconds, minutes, hours | (RATES[rate].code << 5)];
  const value = values[piece >> 1]!;
  return (piece << 4) | (piece % 2 === 0 ? value & 0x0f : value >> 4);
}

/** The signal at a quarter of a frame. @param quarter number of quarters from 00:00:00:00 on */
export function quarterFrame(quarter: number, rate: FrameRate): SystemSignal {
  const piece = ((quarter % PIECES) + PIECES) % PIECES;
  const parts = partsOf((quarter - piece) / 4, rate);
  return { kind: 'system', status: QUARTER_FRAME, data1: quarterFrameByte(piece, parts, rate), data2: 0 };
}

/** The full message of a frame, to all devices. */
export function fullFrame(frame: number, rate: FrameRate): SysexSignal {
  const { hours, minutes, seconds, frames } = partsOf(frame, rate);
  const first = (RATES[rate].code << 5) | hours;
  return {
    kind: 'sysex',
    bytes: Uint8Array.of(0xf0, 0x7f, 0x7f, 0x01, 0x01, first, minutes, seconds, frames, 0xf7),
  };
}

export interface Timecode {
  parts: TimecodeParts;
  /** 0–3, as core/timecode/frame-rate lists it. */
  code: number;
}

/** Reads a full message. @returns null for any other message, and for numbers that do not exist */
export function readFullFrame(bytes: Uint8Array): Timecode | null {
  if (bytes.length !== 10 || bytes[0] !== 0xf0 || bytes[1] !== 0x7f || bytes[3] !== 1 || bytes[4] !== 1)
    return null;
  return checked(bytes[5]!, bytes[6]!, bytes[7]!, bytes[8]!);
}

/** @returns null for numbers that do not exist */
export function checked(first: number, minutes: number, seconds: number, frames: number): Timecode | null {
  const code = (first >> 5) & 3;
  const parts = { hours: first & 0x1f, minutes, seconds, frames };
  return exists(parts, RATE_OF_CODE[code]!) ? { parts, code } : null;
}

/** What quarter frames said. */
export interface QuarterHeard {
  /** Number of quarters from 00:00:00:00 on, by the rate of `code`. */
  quarter: number;
  code: number;
  /** The first quarter of this row of pieces: where it was when it began to be heard. */
  from: number;
}
