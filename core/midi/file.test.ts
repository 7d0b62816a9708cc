import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { read as readElsewhere } from 'midifile-ts';
import type { ChannelSignal } from '../signal.js';
import { readMidiFile, writeMidiFile, type MidiFile, type ScoreTrack } from './file.js';
import { runs } from '../runs.test-helper.js';

const demo = new Uint8Array(
  readFileSync(new URL('../../stand-ins/score-player/lantern-pier.mid', import.meta.url)),
);

function good(bytes: Uint8Array): MidiFile {
  const read = readMidiFile(bytes);
  if (!read.ok) throw new Error(read.reason);
  return read.file;
}

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
  const notes = events.filter(({ signal }) => signal.kind === 'noteOn');
  expect(notes.map(({ atMs, signal }) => [atMs, signal.channel, signal.number, signal.value])).toEqual([
    [0, 2, 0x30, 0x60],
    [0, 2, 0x3c, 0x60],
    [500, 1, 0x43, 0x40],
    [1000, 0, 0x4c, 0x20],
  ]);
  expect(durationMs).toBe(2000);
});

// Independent check: the package midifile-ts reads the same from the demo's file, which the score player plays.
test('another MIDI-file package reads the same notes from the demo’s score', () => {
  const ours = good(demo).events.filter(({ signal }) => signal.kind === 'noteOn');
  const theirs = readElsewhere(demo).tracks.flatMap((events) =>
    events.filter((event) => event.type === 'channel' && event.subtype === 'noteOn'),
  );
  const key = (channel: number, number: number, velocity: number): string =>
    `${channel}:${number}:${velocity}`;
  expect(ours.length).toBeGreaterThan(50);
  expect(ours.map(({ signal }) => key(signal.channel, signal.number, signal.value)).sort()).toEqual(
    theirs
      .map((event) => {
        const note = event as unknown as { channel: number; noteNumber: number; velocity: number };
        return key(note.channel, note.noteNumber, note.velocity);
      })
      .sort(),
  );
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
      const read = good(writeMidiFile([{ name: 'x', events }], 100)).events.map(
        ({ signal }): ChannelSignal => signal,
      );
      expect(read).toEqual(sorted.map(({ signal }) => signal));
    }),
  );
});
