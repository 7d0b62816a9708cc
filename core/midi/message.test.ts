/** Messages as bytes (MIDI 1.0 Detailed Specification 4.2, tables I to VI; from memory). */
import { describe, expect, test } from '@jest/globals';
import type { MidiSignal } from '../signal.js';
import { channelSignal, dataLength, encodeMidi } from './message.js';

test('each status has so many data bytes', () => {
  const lengths = (from: number, to: number): number[] =>
    Array.from({ length: to - from + 1 }, (_, at) => dataLength(from + at));
  for (const status of [0x80, 0x90, 0xa0, 0xb0, 0xe0])
    expect([status, lengths(status, status + 15)]).toEqual([status, Array(16).fill(2)]);
  for (const status of [0xc0, 0xd0])
    expect([status, lengths(status, status + 15)]).toEqual([status, Array(16).fill(1)]);
  // System-exclusive, quarter frame, song position, song select, then what has none.
  expect(lengths(0xf0, 0xff)).toEqual([-1, 1, 2, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]);
});

const MESSAGES: [MidiSignal, number[]][] = [
  [{ kind: 'noteOff', channel: 0, number: 60, value: 64 }, [0x80, 60, 64]],
  [{ kind: 'noteOn', channel: 15, number: 127, value: 1 }, [0x9f, 127, 1]],
  [{ kind: 'polyPressure', channel: 1, number: 5, value: 6 }, [0xa1, 5, 6]],
  [{ kind: 'controlChange', channel: 2, number: 7, value: 127 }, [0xb2, 7, 127]],
  [{ kind: 'programChange', channel: 3, number: 9, value: 0 }, [0xc3, 9]],
  [{ kind: 'channelPressure', channel: 4, number: 0, value: 10 }, [0xd4, 10]],
  [{ kind: 'pitchBend', channel: 5, number: 0, value: 8192 }, [0xe5, 0, 0x40]],
  [{ kind: 'pitchBend', channel: 5, number: 0, value: 16_383 }, [0xe5, 0x7f, 0x7f]],
];

describe('a channel message', () => {
  test.each(MESSAGES)('%j', (signal, bytes) => {
    const [status, data1 = 0, data2 = 0] = bytes;
    expect(channelSignal(status!, data1, data2)).toEqual(signal);
    // It is written where it should be, its length is said, and nothing beside it is touched.
    const into = new Uint8Array(6).fill(0xee);
    expect(encodeMidi(signal, into, 2)).toBe(bytes.length);
    expect([...into.subarray(0, 2), ...into.subarray(2 + bytes.length)]).toEqual(
      Array(6 - bytes.length).fill(0xee),
    );
    expect([...into.subarray(2, 2 + bytes.length)]).toEqual(bytes);
  });

  test('a note on of force 0 is a note off', () => {
    expect(channelSignal(0x93, 60, 0)).toEqual({ kind: 'noteOff', channel: 3, number: 60, value: 0 });
  });

  test('is written where there is room to the last byte, and not where there is none', () => {
    const note: MidiSignal = { kind: 'noteOn', channel: 0, number: 1, value: 2 };
    const into = new Uint8Array(4);
    expect(encodeMidi(note, into, 1)).toBe(3);
    expect(() => encodeMidi(note, into, 2)).toThrow('no room for a MIDI message');
  });
});

describe('a system message', () => {
  test.each<[MidiSignal, number[]]>([
    [{ kind: 'system', status: 0xf1, data1: 5, data2: 9 }, [0xf1, 5]],
    [{ kind: 'system', status: 0xf2, data1: 5, data2: 6 }, [0xf2, 5, 6]],
    [{ kind: 'system', status: 0xf3, data1: 5, data2: 9 }, [0xf3, 5]],
    [{ kind: 'system', status: 0xf6, data1: 5, data2: 9 }, [0xf6]],
    [{ kind: 'system', status: 0xf8, data1: 5, data2: 9 }, [0xf8]],
  ])('%j', (signal, bytes) => {
    const into = new Uint8Array(bytes.length + 1).fill(0xee);
    expect(encodeMidi(signal, into)).toBe(bytes.length);
    expect([...into]).toEqual([...bytes, 0xee]);
    expect(encodeMidi(signal, into, 1)).toBe(bytes.length);
    expect(() => encodeMidi(signal, into, 2)).toThrow('no room for a MIDI message');
  });

  test('system-exclusive is its own bytes', () => {
    const into = new Uint8Array(6).fill(0xee);
    expect(encodeMidi({ kind: 'sysex', bytes: Uint8Array.of(0xf0, 1, 0xf7) }, into, 2)).toBe(3);
    expect([...into]).toEqual([0xee, 0xee, 0xf0, 1, 0xf7, 0xee]);
  });
});
