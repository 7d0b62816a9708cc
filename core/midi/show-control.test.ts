// Published: MIDI Show Control 1.0/1.1 (RP-002, RP-014), from memory: the text was not at hand.
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { decodeShowControl, describeShowControl, encodeShowControl } from './show-control.js';
import { describeUniversal } from './universal.js';

const hex = (text: string): Uint8Array => Uint8Array.from(text.split(' ').map((byte) => parseInt(byte, 16)));

// RP-002, "general structure": F0 7F <device> 02 <format> <command> <data> F7, cue numbers as ASCII digits and points.
describe('worked messages, byte for byte', () => {
  test.each([
    [
      'lighting go, all devices, no cue',
      'F0 7F 7F 02 01 01 F7',
      { device: 127, format: 1, command: 1, cue: '', list: '' },
    ],
    [
      'lighting go cue 4, device 16',
      'F0 7F 10 02 01 01 34 F7',
      { device: 16, format: 1, command: 1, cue: '4', list: '' },
    ],
    [
      'sound go cue 12.1 list 3',
      'F0 7F 05 02 10 01 31 32 2E 31 00 33 F7',
      { device: 5, format: 0x10, command: 1, cue: '12.1', list: '3' },
    ],
    ['machinery stop', 'F0 7F 01 02 20 02 F7', { device: 1, format: 0x20, command: 2, cue: '', list: '' }],
    [
      'video resume cue 235.6',
      'F0 7F 02 02 30 03 32 33 35 2E 36 F7',
      { device: 2, format: 0x30, command: 3, cue: '235.6', list: '' },
    ],
    [
      'lighting timed go cue 7 in 1 min 2.5 s, at 30 frames a second',
      'F0 7F 10 02 01 04 60 01 02 0F 00 37 F7',
      { device: 16, format: 1, command: 4, cue: '7', list: '', timeMs: 62_500 },
    ],
    [
      'sound set control 300 to 5000, the low seven bits first',
      'F0 7F 05 02 10 06 2C 02 08 27 F7',
      { device: 5, format: 0x10, command: 6, cue: '', list: '', control: 300, value: 5000 },
    ],
    [
      'load cue 9 list 2',
      'F0 7F 05 02 10 05 39 00 32 F7',
      { device: 5, format: 0x10, command: 5, cue: '9', list: '2' },
    ],
    ['all off', 'F0 7F 7F 02 7F 08 F7', { device: 127, format: 127, command: 8, cue: '', list: '' }],
  ])('%s', (_, bytes, message) => {
    expect(encodeShowControl(message)).toEqual(hex(bytes));
    expect(decodeShowControl(hex(bytes))).toEqual(message);
  });

  test('the time of a timed go is read at any of the standard’s rates, and one that breaks off is none', () => {
    const at = (hours: string): number | undefined =>
      decodeShowControl(hex(`F0 7F 10 02 01 04 ${hours} 00 01 0C 32 37 F7`))?.timeMs;
    expect([at('00'), at('20'), at('60')]).toEqual([1000 + 12_500 / 24, 1500, 1000 + 12_500 / 30]);
    expect(decodeShowControl(hex('F0 7F 10 02 01 04 60 00 F7'))).toBeNull();
  });

  test('in words', () => {
    expect(describeShowControl({ device: 16, format: 1, command: 1, cue: '4.5', list: '1' })).toBe(
      'show control: lighting go, cue 4.5 list 1, device 16',
    );
  });
});

test('a path after the list is passed over, and a cue with other letters is none', () => {
  expect(decodeShowControl(hex('F0 7F 10 02 01 01 34 00 31 00 32 F7'))).toMatchObject({
    cue: '4',
    list: '1',
  });
  expect(decodeShowControl(hex('F0 7F 10 02 01 01 41 F7'))).toBeNull();
});

test('any message comes back as it went in', () => {
  const digits = fc.array(fc.nat(999), { maxLength: 3 }).map((parts) => parts.join('.'));
  const cues = fc.tuple(digits, digits).map(([cue, list]) => ({ cue, list: cue === '' ? '' : list }));
  fc.assert(
    fc.property(
      fc.nat(127),
      fc.integer({ min: 1, max: 127 }),
      fc.constantFrom(1, 2, 3),
      cues,
      (device, format, command, cue) => {
        const message = { device, format, command, ...cue };
        expect(decodeShowControl(encodeShowControl(message))).toEqual(message);
      },
    ),
  );
});

test('random bytes are show control or not, and never an error', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), (tail) => {
      decodeShowControl(tail);
      decodeShowControl(Uint8Array.of(0xf0, 0x7f, ...tail));
      describeUniversal(Uint8Array.of(0xf0, 0x7f, ...tail));
      describeUniversal(Uint8Array.of(0xf0, 0x7e, ...tail, 0xf7));
    }),
  );
});

// MIDI 1.0, table VIIa, and MIDI Time Code (RP-004): full frame F0 7F 7F 01 01 hh mm ss ff F7, rate in bits 5–6 of the hours.
test.each([
  ['F0 7F 7F 01 01 21 02 03 04 F7', 'timecode 01:02:03:04, 25 fps, all devices'],
  ['F0 7F 7F 01 01 41 00 00 02 F7', 'timecode 01:00:00:02, 30 fps drop-frame, all devices'],
  ['F0 7F 7F 04 01 7F 7F F7', 'master volume 16383 of 16383, all devices'],
  ['F0 7E 7F 06 01 F7', 'who are you? (identity request), all devices'],
  ['F0 7F 05 06 02 F7', 'machine control: play, device 5'],
])('%s says: %s', (bytes, words) => expect(describeUniversal(hex(bytes))).toBe(words));
