import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { read as readElsewhere } from 'midifile-ts';
import { readMidiFile, writeMidiFile, type FileEvent, type MidiFile, type ScoreTrack } from './file.js';
import { runs } from '../runs.test-helper.js';

const demo = new Uint8Array(
  readFileSync(new URL('../../stand-ins/score-player/lantern-pier.mid', import.meta.url)),
);

function good(bytes: Uint8Array): MidiFile {
  const read = readMidiFile(bytes);
  if (!read.ok) throw new Error(read.reason);
  return read.file;
}

/** The notes that are pressed, with when: time, channel, number, force. */
const pressedIn = (events: readonly FileEvent[]): [number, number, number, number][] =>
  events.flatMap(({ atMs, signal }): [number, number, number, number][] =>
    signal.kind === 'noteOn' ? [[atMs, signal.channel, signal.number, signal.value]] : [],
  );

const bell: ScoreTrack = {
  name: 'Bells',
  events: [
    { tick: 0, signal: { kind: 'noteOn', channel: 2, number: 67, value: 90 } },
    { tick: 480, signal: { kind: 'noteOff', channel: 2, number: 67, value: 64 } },
    { tick: 960, signal: { kind: 'pitchBend', channel: 2, number: 0, value: 12_000 } },
    { tick: 960, signal: { kind: 'controlChange', channel: 0, number: 1, value: 33 } },
    { tick: 960, signal: { kind: 'programChange', channel: 0, number: 7, value: 0 } },
  ],
};

test('what is written is read back, at the times that its tempo gives', () => {
  const file = good(writeMidiFile([bell], 120, 480));
  expect(file.events.map(({ signal }) => signal)).toEqual(bell.events.map(({ signal }) => signal));
  // Standard MIDI Files 1.0: a quarter note of 480 ticks at 500,000 microseconds lasts half a second.
  expect(file.events.map(({ atMs }) => atMs)).toEqual([0, 500, 1000, 1000, 1000]);
  expect(file.tempo).toBe(120);
  expect(file.trackNames).toContain('Bells');
});

// Standard MIDI Files 1.0, appendix: the worked example of format 0, with running status and a tempo of 120 (from memory).
test('the specification’s example of format 0', () => {
  const bytes = Uint8Array.from(
    `4D 54 68 64 00 00 00 06 00 00 00 01 00 60
     4D 54 72 6B 00 00 00 3B
     00 FF 58 04 04 02 18 08  00 FF 51 03 07 A1 20
     00 C0 05  00 C1 2E  00 C2 46
     00 92 30 60  00 3C 60
     60 91 43 40  60 90 4C 20
     81 40 82 30 40  00 3C 40  00 81 43 40  00 80 4C 40
     00 FF 2F 00`
      .trim()
      .split(/\s+/),
    (byte) => parseInt(byte, 16),
  );
  const { events, durationMs } = good(bytes);
  expect(pressedIn(events)).toEqual([
    [0, 2, 0x30, 0x60],
    [0, 2, 0x3c, 0x60],
    [500, 1, 0x43, 0x40],
    [1000, 0, 0x4c, 0x20],
  ]);
  expect(durationMs).toBe(2000);
});

// Independent check: the package midifile-ts reads the same from the demo's file, which the score player plays.
test('another MIDI-file package reads the same notes from the demo’s score', () => {
  const ours = pressedIn(good(demo).events);
  const theirs = readElsewhere(demo).tracks.flatMap((events) =>
    events.filter((event) => event.type === 'channel' && event.subtype === 'noteOn'),
  );
  const key = (channel: number, number: number, velocity: number): string =>
    `${channel}:${number}:${velocity}`;
  expect(ours.length).toBeGreaterThan(50);
  expect(ours.map(([, channel, number, force]) => key(channel, number, force)).sort()).toEqual(
    theirs
      .map((event) => {
        const note = event as unknown as { channel: number; noteNumber: number; velocity: number };
        return key(note.channel, note.noteNumber, note.velocity);
      })
      .sort(),
  );
});

describe('system-exclusive messages', () => {
  const DUMP = Uint8Array.of(0xf0, 0x7d, 1, 2, 3, 0xf7);
  const score: ScoreTrack = {
    name: 'Lens',
    events: [
      { tick: 0, signal: { kind: 'noteOn', channel: 0, number: 60, value: 1 } },
      { tick: 240, signal: { kind: 'sysex', bytes: DUMP } },
      { tick: 480, signal: { kind: 'noteOff', channel: 0, number: 60, value: 0 } },
    ],
  };

  test('are read back whole, at their times', () => {
    const { events, notPlayed } = good(writeMidiFile([score], 120, 480));
    expect(events.map(({ atMs, signal }) => [atMs, signal.kind])).toEqual([
      [0, 'noteOn'],
      [250, 'sysex'],
      [500, 'noteOff'],
    ]);
    expect(events[1]!.signal).toEqual({ kind: 'sysex', bytes: DUMP });
    expect(notPlayed).toBe(0);
  });

  // Independent check: the package midifile-ts reads the same bytes.
  test('another package reads them from what is written', () => {
    const theirs = readElsewhere(writeMidiFile([score], 120, 480)).tracks.flat();
    expect(theirs.filter(({ type }) => type === 'sysEx')).toMatchObject([{ data: [...DUMP.subarray(1)] }]);
  });

  // Standard MIDI Files 1.0, F0 and F7 events: a message may be sent in parts, and F7 may escape any bytes.
  test('in parts, without an end, or escaped are counted as not played', () => {
    const track =
      '00 F0 03 7D 01 02  60 F7 02 03 F7  00 F7 01 F8  00 F0 04 7D 81 02 F7  00 F0 02 7D F7  00 FF 2F 00';
    const bytes = track
      .trim()
      .split(/\s+/)
      .map((byte) => parseInt(byte, 16));
    const file = Uint8Array.from([
      ...[
        0x4d,
        0x54,
        0x68,
        0x64,
        0,
        0,
        0,
        6,
        0,
        0,
        0,
        1,
        0,
        0x60,
        0x4d,
        0x54,
        0x72,
        0x6b,
        0,
        0,
        0,
        bytes.length,
      ],
      ...bytes,
    ]);
    const { events, notPlayed } = good(file);
    expect(notPlayed).toBe(4);
    expect(events).toMatchObject([{ atMs: 500, signal: { bytes: Uint8Array.of(0xf0, 0x7d, 0xf7) } }]);
  });
});

describe('a file that is none', () => {
  test.each([
    ['a text', new TextEncoder().encode('House to half, then slack water'), 'not a MIDI file'],
    ['nothing', new Uint8Array(0), 'not a MIDI file'],
    ['a header that breaks off', demo.slice(0, 10), 'breaks off in its header'],
    ['a file without its last tracks', demo.slice(0, 45), 'breaks off'],
    ['a file whose last track breaks off', demo.slice(0, demo.length - 20), 'breaks off'],
  ])('%s is refused in words', (_, bytes, words) => {
    const read = readMidiFile(bytes);
    expect(read).toMatchObject({ ok: false, reason: expect.stringContaining(words) });
  });

  test('any damage gives a file or a reason, never an exception', () => {
    const hits = fc.array(fc.tuple(fc.nat(demo.length - 1), fc.nat(255)), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(hits, fc.nat(demo.length), (damage, length) => {
        const bytes = demo.slice(0, length);
        for (const [at, byte] of damage) if (at < bytes.length) bytes[at] = byte;
        const read = readMidiFile(bytes);
        expect(read.ok ? read.file.events.length >= 0 : read.reason.length > 0).toBe(true);
      }),
      { numRuns: runs(300) },
    );
  });
});

test('any notes are read back as they were written', () => {
  const notes = fc.array(
    fc.record({
      tick: fc.nat(100_000),
      signal: fc.record({
        kind: fc.constant('noteOn' as const),
        channel: fc.nat(15),
        number: fc.nat(127),
        value: fc.integer({ min: 1, max: 127 }),
      }),
    }),
    { minLength: 1, maxLength: 40 },
  );
  fc.assert(
    fc.property(notes, (events) => {
      const sorted = [...events].sort((a, b) => a.tick - b.tick);
      const read = good(writeMidiFile([{ name: 'x', events }], 100)).events.map(({ signal }) => signal);
      expect(read).toEqual(sorted.map(({ signal }) => signal));
    }),
  );
});
