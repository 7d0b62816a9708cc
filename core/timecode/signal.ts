/**
 * A frame of timecode as it is recorded in the traffic, and carried to a browser that plays it: hours, minutes, seconds, frames, the code of its
 * rate, and its speed as a 32-bit float, high byte first.
 */
import type { TimecodeSignal } from '../signal.js';
import { RATE_OF_CODE, RATES } from './frame-rate.js';
import { exists } from './timecode.js';

export const TIMECODE_BYTES = 9;
const SPEED_AT = 5;
/** The fastest speed that makes sense. */
const FASTEST = 100;

export function encodeTimecode(signal: TimecodeSignal, into = new Uint8Array(TIMECODE_BYTES)): Uint8Array {
  const { hours, minutes, seconds, frames, code, speed } = signal;
  into[0] = hours;
  into[1] = minutes;
  into[2] = seconds;
  into[3] = frames;
  into[4] = code;
  new DataView(into.buffer, into.byteOffset).setFloat32(SPEED_AT, speed);
  return into;
}

/** @returns null if the bytes are no timecode that exists */
export function decodeTimecode(bytes: Uint8Array): TimecodeSignal | null {
  if (bytes.length !== TIMECODE_BYTES) return null;
  const [hours, minutes, seconds, frames, code] = bytes as unknown as [
    number,
    number,
    number,
    number,
    number,
  ];
  const rate = RATE_OF_CODE[code];
  const parts = { hours, minutes, seconds, frames };
  const speed = new DataView(bytes.buffer, bytes.byteOffset).getFloat32(SPEED_AT);
  // NaN fails too.
  if (!rate || !exists(parts, rate) || !(Math.abs(speed) <= FASTEST)) return null;
  return { kind: 'timecode', ...parts, code, speed };
}

const two = (number: number): string => String(number).padStart(2, '0');

/** `timecode 01:02:03:04 at 25 fps` */
export function describeTimecode({ hours, minutes, seconds, frames, code, speed }: TimecodeSignal): string {
  const rate = RATES[RATE_OF_CODE[code]!];
  const text = `${two(hours)}:${two(minutes)}:${two(seconds)}${rate.drop ? ';' : ':'}${two(frames)}`;
  const way = speed === 0 ? ', standing' : speed < 0 ? ', backward' : '';
  return `timecode ${text} at ${rate.words}${way}`;
}
