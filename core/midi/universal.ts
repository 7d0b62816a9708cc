/**
 * Universal system-exclusive in words (MIDI 1.0, table VIIa; from memory): F0 7E (non-real-time) or 7F (real-time),
 * the device, and two bytes that say what it is.
 */
import { decodeShowControl, describeShowControl } from './show-control.js';

const RATES = ['24 fps', '25 fps', '30 fps drop-frame', '30 fps'];
const two = (value: number): string => String(value).padStart(2, '0');

/** Real-time, by the two bytes after the device; `rest` are the bytes after those. */
function realTime(sub1: number, sub2: number, rest: Uint8Array): string | null {
  if (sub1 === 0x01 && sub2 === 0x01 && rest.length >= 4) {
    const [hours = 0, minutes = 0, seconds = 0, frames = 0] = rest;
    const rate = RATES[(hours >> 5) & 3]!;
    return `timecode ${two(hours & 0x1f)}:${two(minutes)}:${two(seconds)}:${two(frames)}, ${rate}`;
  }
  if (sub1 === 0x04 && sub2 === 0x01 && rest.length >= 2)
    return `master volume ${(rest[1]! << 7) | rest[0]!} of 16383`;
  if (sub1 === 0x04 && sub2 === 0x02 && rest.length >= 2)
    return `master balance ${((rest[1]! << 7) | rest[0]!) - 8192}`;
  if (sub1 === 0x06) return `machine control: ${MACHINE_COMMANDS[sub2] ?? `command ${sub2}`}`;
  return null;
}

const MACHINE_COMMANDS: Record<number, string> = {
  0x01: 'stop',
  0x02: 'play',
  0x03: 'play when ready',
  0x04: 'fast forward',
  0x05: 'rewind',
  0x06: 'record',
  0x07: 'stop recording',
  0x09: 'pause',
  0x44: 'go to a place',
};

function nonRealTime(sub1: number, sub2: number, rest: Uint8Array): string | null {
  if (sub1 === 0x06 && sub2 === 0x01) return 'who are you? (identity request)';
  if (sub1 === 0x06 && sub2 === 0x02) {
    const id = rest[0] === 0 ? rest.subarray(0, 3) : rest.subarray(0, 1);
    return `identity: manufacturer ${[...id].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')}`;
  }
  if (sub1 === 0x09) return sub2 === 0x02 ? 'General MIDI off' : 'General MIDI on';
  if (sub1 >= 0x7b && sub1 <= 0x7f)
    return ['end of file', 'wait', 'cancel', 'not understood', 'understood'][sub1 - 0x7b]!;
  return null;
}

/** Says what a whole universal system-exclusive message, F0 to F7, means; null for others. */
export function describeUniversal(bytes: Uint8Array): string | null {
  if (bytes.length < 6 || bytes[0] !== 0xf0) return null;
  const rest = bytes.subarray(5, bytes.length - 1);
  const device = bytes[2] === 0x7f ? 'all devices' : `device ${bytes[2]}`;
  if (bytes[1] === 0x7f) {
    const control = decodeShowControl(bytes);
    if (control) return describeShowControl(control);
    const words = realTime(bytes[3]!, bytes[4]!, rest);
    return words && `${words}, ${device}`;
  }
  if (bytes[1] === 0x7e) {
    const words = nonRealTime(bytes[3]!, bytes[4]!, rest);
    return words && `${words}, ${device}`;
  }
  return null;
}
