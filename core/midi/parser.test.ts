// Published: MIDI 1.0 Detailed Specification 4.2. Its rules and pages are cited from memory: the text was not at hand.
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { deserializeSingleEvent, Stream } from 'midifile-ts';
import type { ChannelSignal, MidiSignal } from '../signal.js';
import { CHANNEL_KINDS } from '../signal.js';
import { encodeMidi } from './message.js';
import { createMidiParser, SYSEX_LIMIT } from './parser.js';
import { runs } from '../runs.test-helper.js';

interface Heard {
  signals: MidiSignal[];
  bad: string[];
}

function parse(...pieces: number[][]): Heard {
  const heard: Heard = { signals: [], bad: [] };
  const parser = createMidiParser({
    message: (signal) => heard.signals.push(signal),
    bad: (reason) => heard.bad.push(reason),
  });
  for (const piece of pieces) parser.feed(Uint8Array.from(piece));
  return heard;
}

const note = (kind: 'noteOn' | 'noteOff', channel: number, number: number, value: number): ChannelSignal => ({
  kind,
  channel,
  number,
  value,
});

// MIDI 1.0 Detailed Specification 4.2, "Running Status" (page 5 and appendix A-1).
describe('running status', () => {
  test('data bytes alone repeat the last channel status', () => {
    expect(parse([0x90, 60, 100, 64, 100, 67, 100]).signals).toEqual([
      note('noteOn', 0, 60, 100),
      note('noteOn', 0, 64, 100),
      note('noteOn', 0, 67, 100),
    ]);
  });

  test('a note on with velocity 0 under running status is a note off', () => {
    expect(parse([0x99, 36, 97, 36, 0]).signals).toEqual([
      note('noteOn', 9, 36, 97),
      note('noteOff', 9, 36, 0),
    ]);
  });

  test('a one-byte message repeats too', () => {
    expect(parse([0xc2, 5, 6]).signals).toEqual([
      { kind: 'programChange', channel: 2, number: 5, value: 0 },
      { kind: 'programChange', channel: 2, number: 6, value: 0 },
    ]);
  });

  test('real-time bytes do not disturb it', () => {
    const { signals, bad } = parse([0xb1, 0xf8, 21, 0xfe, 90, 0xf8, 21, 91]);
    expect(signals.filter((signal) => signal.kind === 'controlChange')).toEqual([
      { kind: 'controlChange', channel: 1, number: 21, value: 90 },
      { kind: 'controlChange', channel: 1, number: 21, value: 91 },
    ]);
    expect(signals.filter((signal) => signal.kind === 'system').map(({ status }) => status)).toEqual([
      0xf8, 0xfe, 0xf8,
    ]);
    expect(bad).toEqual([]);
  });

  test('system common cancels it, so that data bytes after it mean nothing', () => {
    const { signals, bad } = parse([0x90, 60, 100, 0xf2, 1, 2, 60, 100]);
    expect(signals).toEqual([
      note('noteOn', 0, 60, 100),
      { kind: 'system', status: 0xf2, data1: 1, data2: 2 },
    ]);
    expect(bad).toEqual(['2 data bytes without a status']);
  });

  test('system-exclusive cancels it', () => {
    expect(parse([0x90, 60, 100, 0xf0, 1, 0xf7, 60]).bad).toEqual(['a data byte without a status']);
  });
});

// MIDI 1.0 Detailed Specification 4.2, "System Exclusive" (page 29) and "System Real Time Messages" (page 30).
describe('system-exclusive', () => {
  test('is whole, though real-time bytes stand in its middle', () => {
    const { signals } = parse([0xf0, 0x7f, 0xf8, 0x05, 0x02], [0xfe, 0x01, 0xf7]);
    expect(signals.map((signal) => signal.kind)).toEqual(['system', 'system', 'sysex']);
    expect(signals[2]).toEqual({ kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7f, 0x05, 0x02, 0x01, 0xf7) });
  });

  test('another status byte breaks it off, and is heard itself', () => {
    const { signals, bad } = parse([0xf0, 1, 2, 0x90, 60, 1]);
    expect(bad).toEqual(['a system-exclusive message that breaks off']);
    expect(signals).toEqual([note('noteOn', 0, 60, 1)]);
  });

  test('one that never ends does not fill the memory, and what follows is heard', () => {
    const endless = Array.from({ length: SYSEX_LIMIT + 10 }, () => 1);
    const { signals, bad } = parse([0xf0], endless, [0xf7, 0x80, 60, 64]);
    expect(bad).toEqual(['a system-exclusive message that is too long']);
    expect(signals).toEqual([note('noteOff', 0, 60, 64)]);
  });
});

// MIDI 1.0 Detailed Specification 4.2, table II and "Note Off" (page 10).
test('a note off keeps its release velocity', () => {
  expect(parse([0x82, 55, 33]).signals).toEqual([note('noteOff', 2, 55, 33)]);
});

// MIDI 1.0 Detailed Specification 4.2, "Pitch Bend Change" (page 14): low seven bits first, 2000H is the middle.
test('pitch bend is fourteen bits, the low ones first', () => {
  expect(parse([0xe0, 0x00, 0x40]).signals).toEqual([
    { kind: 'pitchBend', channel: 0, number: 0, value: 0x2000 },
  ]);
});

const channelSignals = fc
  .record({
    kind: fc.constantFrom(...CHANNEL_KINDS),
    channel: fc.integer({ min: 0, max: 15 }),
    number: fc.integer({ min: 0, max: 127 }),
    value: fc.integer({ min: 0, max: 127 }),
    high: fc.integer({ min: 0, max: 127 }),
  })
  .map(({ high, ...signal }): ChannelSignal => {
    if (signal.kind === 'programChange') return { ...signal, value: 0 };
    if (signal.kind === 'channelPressure') return { ...signal, number: 0 };
    if (signal.kind === 'pitchBend') return { ...signal, number: 0, value: (high << 7) | signal.value };
    if (signal.kind === 'noteOn') return { ...signal, value: Math.max(1, signal.value) };
    return signal;
  });
const sysex = fc
  .uint8Array({ max: 127, maxLength: 40 })
  .map((body): MidiSignal => ({ kind: 'sysex', bytes: Uint8Array.from([0xf0, ...body, 0xf7]) }));
const systems = fc.constantFrom<MidiSignal>(
  { kind: 'system', status: 0xf1, data1: 0x23, data2: 0 },
  { kind: 'system', status: 0xf2, data1: 3, data2: 4 },
  { kind: 'system', status: 0xf3, data1: 9, data2: 0 },
  { kind: 'system', status: 0xf6, data1: 0, data2: 0 },
  { kind: 'system', status: 0xf8, data1: 0, data2: 0 },
  { kind: 'system', status: 0xff, data1: 0, data2: 0 },
);

/** What the other package calls a channel message, and the names of its two numbers. */
const THEIRS = {
  noteOff: ['noteOff', 'noteNumber', 'velocity'],
  noteOn: ['noteOn', 'noteNumber', 'velocity'],
  polyPressure: ['noteAftertouch', 'noteNumber', 'amount'],
  controlChange: ['controller', 'controllerType', 'value'],
  programChange: ['programChange', 'value', null],
  channelPressure: ['channelAftertouch', null, 'amount'],
  pitchBend: ['pitchBend', null, 'value'],
} as const;

// Independent check: the package midifile-ts reads the bytes of each channel message as we mean them.
test('another MIDI package reads the channel messages that we write', () => {
  fc.assert(
    fc.property(channelSignals, (signal) => {
      const buffer = new Uint8Array(3);
      const bytes = buffer.subarray(0, encodeMidi(signal, buffer));
      const event = deserializeSingleEvent(new Stream([...bytes]), 0) as unknown as Record<string, unknown>;
      const [subtype, number, value] = THEIRS[signal.kind];
      expect(event).toMatchObject({ type: 'channel', subtype, channel: signal.channel });
      if (number) expect(event[number]).toBe(signal.number);
      if (value) expect(event[value]).toBe(signal.value);
    }),
  );
});

describe('any signals', () => {
  test('come back as they went in, however the stream is split', () => {
    const cuts = fc.array(fc.nat(400), { maxLength: 30 });
    fc.assert(
      fc.property(
        fc.array(fc.oneof(channelSignals, sysex, systems), { maxLength: 25 }),
        cuts,
        (signals, at) => {
          const buffer = new Uint8Array(4096);
          let length = 0;
          for (const signal of signals) length += encodeMidi(signal, buffer, length);
          const bytes = [...buffer.subarray(0, length)];
          const ends = [0, ...at.map((cut) => cut % (length + 1)).sort((a, b) => a - b), length];
          const heard = parse(...ends.slice(1).map((end, i) => bytes.slice(ends[i], end)));
          expect(heard.bad).toEqual([]);
          expect(heard.signals).toEqual(signals);
        },
      ),
    );
  });

  test('random bytes never stop it: what is no message is said, and a message after them is heard', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
        const { signals } = parse([...bytes], [0x90, 60, 100]);
        expect(signals.at(-1)).toEqual(note('noteOn', 0, 60, 100));
      }),
      { numRuns: runs(500) },
    );
  });

  test('every byte of a stream without system-exclusive is in a message or is said to be bad', () => {
    const plain = fc.array(
      fc.integer({ min: 0, max: 255 }).filter((byte) => byte !== 0xf0 && byte !== 0xf7),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(plain, (bytes) => {
        let accounted = 0;
        const parser = createMidiParser({
          message: (_, message) => (accounted += message.length),
          bad: (_, unread) => (accounted += unread.length),
        });
        parser.feed(Uint8Array.from(bytes));
        // A status and one data byte at the very end may still wait for the second.
        expect(accounted).toBeGreaterThanOrEqual(bytes.length - 2);
      }),
    );
  });
});
