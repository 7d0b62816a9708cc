import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fillSysex, readSysexTemplate } from './sysex-template.js';

function filled(text: string, value = 0): string {
  const read = readSysexTemplate(text);
  if (!read.ok) throw new Error(read.reason);
  const into = new Uint8Array(read.value.parts.length);
  fillSysex(read.value, value, into);
  return [...into].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');
}

describe('system-exclusive as it is typed', () => {
  test('has F0 and F7 whether they are written or not', () => {
    expect(filled('F0 7D 01 F7')).toBe('F0 7D 01 F7');
    expect(filled('7d, 1')).toBe('F0 7D 01 F7');
  });

  // MIDI 1.0, table VIIa: master volume, F0 7F <device> 04 01 <low> <high> F7 (from memory).
  test('has places for a value of seven bits, and of fourteen', () => {
    expect(filled('7D vv', 100)).toBe('F0 7D 64 F7');
    expect(filled('F0 7F 7F 04 01 ll hh F7', 16_383)).toBe('F0 7F 7F 04 01 7F 7F F7');
    expect(filled('F0 7F 7F 04 01 ll hh F7', 200)).toBe('F0 7F 7F 04 01 48 01 F7');
  });

  test('says how high its value goes: to what its places hold, and to 1 where it has none', () => {
    const highOf = (text: string): number | null => {
      const read = readSysexTemplate(text);
      return read.ok ? read.value.high : null;
    };
    expect(['7D vv', '7D hh', '7D ll', '7D vv hh ll', '7D 01'].map(highOf)).toEqual([
      127, 16_383, 16_383, 16_383, 1,
    ]);
  });

  // Common practice: the checksum brings the sum of what it counts to a multiple of 128.
  test('has a checksum that brings the sum to a multiple of 128, whatever the value', () => {
    expect(filled('F0 7D 10 | 40 00 04 vv ck F7', 0x40)).toBe('F0 7D 10 40 00 04 40 7C F7');
    fc.assert(
      fc.property(fc.nat(127), fc.array(fc.nat(127), { minLength: 1, maxLength: 20 }), (value, data) => {
        const text = `7D | ${data.map((byte) => byte.toString(16)).join(' ')} vv ck`;
        const bytes = filled(text, value)
          .split(' ')
          .map((hex) => parseInt(hex, 16));
        expect(bytes.slice(2, -1).reduce((sum, byte) => sum + byte, 0) % 128).toBe(0);
      }),
    );
  });

  test.each([
    ['', 'There is nothing between F0 and F7.'],
    ['F0 F7', 'There is nothing between F0 and F7.'],
    ['F0 7D 90 F7', '90 can’t be inside: data bytes go from 00 to 7F.'],
    ['F0 7D xx F7', '“xx” is no byte.'],
    ['7D 1 ck', 'Put | before the first byte'],
    ['7D | 1 ck ck', 'One checksum is enough.'],
  ])('“%s” is refused in words', (text, words) => {
    const read = readSysexTemplate(text);
    expect(read.ok ? '' : read.reason).toContain(words);
  });
});
