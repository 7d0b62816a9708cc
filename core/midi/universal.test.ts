/** Universal system-exclusive (MIDI 1.0, table VIIa, and MIDI Machine Control 1.0; from memory), as words. */
import { expect, test } from '@jest/globals';
import { describeUniversal } from './universal.js';

const words = (hex: string): string | null =>
  describeUniversal(Uint8Array.from(hex.split(' '), (byte) => parseInt(byte, 16)));

test.each([
  // A full message of MIDI timecode: hours with the rate in bits 5 and 6.
  ['f0 7f 7f 01 01 01 02 03 04 f7', 'timecode 01:02:03:04, 24 fps, all devices'],
  ['f0 7f 7f 01 01 37 3b 3b 17 f7', 'timecode 23:59:59:23, 25 fps, all devices'],
  ['f0 7f 10 01 01 41 00 00 00 f7', 'timecode 01:00:00:00, 30 fps drop-frame, device 16'],
  ['f0 7f 10 01 01 61 00 00 00 f7', 'timecode 01:00:00:00, 30 fps, device 16'],
  ['f0 7f 7f 04 01 7f 7f f7', 'master volume 16383 of 16383, all devices'],
  ['f0 7f 7f 04 01 01 02 f7', 'master volume 257 of 16383, all devices'],
  ['f0 7f 05 04 02 00 40 f7', 'master balance 0, device 5'],
  ['f0 7f 05 04 02 7f 3f f7', 'master balance -1, device 5'],
  ['f0 7f 7f 06 01 f7', 'machine control: stop, all devices'],
  ['f0 7f 7f 06 02 f7', 'machine control: play, all devices'],
  ['f0 7f 7f 06 44 06 01 01 00 00 00 00 f7', 'machine control: go to a place, all devices'],
  ['f0 7f 7f 06 20 f7', 'machine control: command 32, all devices'],
  ['f0 7e 7f 06 01 f7', 'who are you? (identity request), all devices'],
  ['f0 7e 00 06 02 41 01 02 f7', 'identity: manufacturer 41, device 0'],
  ['f0 7e 00 06 02 00 20 0b 01 f7', 'identity: manufacturer 00 20 0B, device 0'],
  ['f0 7e 7f 09 01 f7', 'General MIDI on, all devices'],
  ['f0 7e 7f 09 02 f7', 'General MIDI off, all devices'],
  ['f0 7e 03 7b 00 f7', 'end of file, device 3'],
  ['f0 7e 03 7c 00 f7', 'wait, device 3'],
  ['f0 7e 03 7d 00 f7', 'cancel, device 3'],
  ['f0 7e 03 7e 00 f7', 'not understood, device 3'],
  ['f0 7e 03 7f 00 f7', 'understood, device 3'],
  // What breaks off, is not of the table, or is a maker's own, only its maker knows.
  ['f0 7f 7f 01 01 01 02 03 f7', null],
  ['f0 7f 7f 01 02 01 02 03 04 f7', null],
  ['f0 7f 7f 04 01 7f f7', null],
  ['f0 7f 7f 04 02 7f f7', null],
  ['f0 7f 7f 04 03 7f 7f f7', null],
  ['f0 7f 7f 05 01 7f 7f f7', null],
  ['f0 7e 03 7a 00 f7', null],
  ['f0 7e 03 06 03 f7', null],
  ['f0 7e 03 05 01 f7', null],
  ['f0 41 10 06 01 f7', null],
  ['f0 7e 7f 06 f7', null],
  ['7e 7e 7f 06 01 f7', null],
])('%s', (hex, wanted) => expect(words(hex)).toBe(wanted));
