/** A frame of timecode as it is recorded in the traffic: hours, minutes, seconds, frames, the code of its rate, and the way: 0 stands, 1 forward, 2 backward. */
import type { TimecodeSignal } from '../signal.js';
import { RATE_OF_CODE, RATES } from './frame-rate.js';
import { exists } from './timecode.js';

export function encodeTimecode(signal: TimecodeSignal, into = new Uint8Array(6)): Uint8Array {
  const { hours, minutes, seconds, frames, code, speed } = signal;
  into[0] = hours;
  into[1] = minutes;
  into[2] = seconds;
  into[3] = frames;
  into[4] = code;
  into[5] = speed === 0 ? 0 : speed > 0 ? 1 : 2;
  return into;
}

/** @returns null if the bytes are no timecode that exists */
export function decodeTimecode(bytes: Uint8Array): TimecodeSignal | null {
  if (bytes.length !== 6) return null;
  const [hours, minutes, seconds, frames, code, way] = bytes as unknown as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const rate = RATE_OF_CODE[code];
  const parts = { hours, minutes, seconds, frames };
  if (!rate || way > 2 || !exists(parts, rate)) return null;
  return { kind: 'timecode', ...parts, code, speed: way === 2 ? -1 : way };
}

const two = (number: number): string => String(number).padStart(2, '0');

/** `timecode 01:02:03:04 at 25 fps` */
export function describeTimecode({ hours, minutes, seconds, frames, code, speed }: TimecodeSignal): string {
  const rate = RATES[RATE_OF_CODE[code]!];
  const text = `${two(hours)}:${two(minutes)}:${two(seconds)}${rate.drop ? ';' : ':'}${two(frames)}`;
  const way = speed === 0 ? ', standing' : speed < 0 ? ', backward' : '';
  return `timecode ${text} at ${rate.words}${way}`;
}
