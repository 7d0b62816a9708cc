/**
 * Standard MIDI Files 1.0 (formats 0 and 1), read and written through the `midi-file` package.
 *
 * The package reads a damaged file without complaint, so the chunks are walked here first:
 * `MThd` <length 6> <format> <tracks> <division>, then `MTrk` <length> for each track (SMF 1.0, "Chunks").
 */
import { parseMidi, writeMidi, type MidiEvent } from 'midi-file';
import type { ChannelSignal, SysexSignal } from '../signal.js';
import { SYSEX_LIMIT } from './parser.js';

/** What a file plays: channel messages, and whole system-exclusive messages. */
export type FileSignal = ChannelSignal | SysexSignal;

/** One message of a file. `atMs` counts from the file's start, at the tempo written in it. */
export interface FileEvent {
  atMs: number;
  track: number;
  signal: FileSignal;
}

export interface MidiFile {
  /** In the order of time; messages at the same time in the order of their tracks. */
  events: FileEvent[];
  durationMs: number;
  /** The first tempo written in the file, in beats a minute; 120 where none is (SMF 1.0). */
  tempo: number;
  trackNames: string[];
  /** How many messages it has that are not played: system-exclusive ones in several parts or without their end, and escaped bytes (SMF 1.0, F7 events). */
  notPlayed: number;
}

export type MidiFileResult = { ok: true; file: MidiFile } | { ok: false; reason: string };

const ascii = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/** Reads a file. Never throws: what is no MIDI file, or breaks off, comes back as a reason in words. */
export function readMidiFile(bytes: Uint8Array): MidiFileResult {
  const broken = findBreak(bytes);
  if (broken) return { ok: false, reason: broken };
  try {
    return { ok: true, file: flatten(bytes) };
  } catch {
    return { ok: false, reason: 'This file is damaged: a track in it can’t be read.' };
  }
}

function findBreak(bytes: Uint8Array): string | null {
  if (bytes.length < 4 || ascii(bytes, 0) !== 'MThd') {
    return 'This is not a MIDI file. Choose a Standard MIDI File, whose name usually ends in .mid.';
  }
  if (bytes.length < 14) return 'This MIDI file breaks off in its header.';
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const format = view.getUint16(8);
  const tracks = view.getUint16(10);
  if (format > 1) return `This is a MIDI file of format ${format}; formats 0 and 1 can be played.`;
  if (view.getUint16(12) & 0x8000)
    return 'This MIDI file counts in timecode frames; only files that count in beats can be played.';
  if (view.getUint16(12) === 0) return 'This MIDI file says that a beat has no length.';
  let at = 8 + view.getUint32(4);
  for (let track = 1; track <= tracks; track++) {
    if (at + 8 > bytes.length)
      return `This MIDI file breaks off: it should have ${tracks} tracks, and track ${track} is missing.`;
    const length = view.getUint32(at + 4);
    const there = bytes.length - at - 8;
    if (length > there)
      return `This MIDI file breaks off: track ${track} should have ${length} bytes, and only ${there} are there.`;
    at += 8 + length;
    if (ascii(bytes, at - length - 8) !== 'MTrk') track--; // an unknown chunk is to be passed over (SMF 1.0)
  }
  return null;
}

const SYSEX = 0xf0;
const SYSEX_END = 0xf7;

/** A file has the length of the message in place of its first byte, F0 (SMF 1.0). @returns null for a part of a message */
function wholeSysex(data: ArrayLike<number>): SysexSignal | null {
  const bytes = Uint8Array.from([SYSEX, ...Array.from(data)]);
  const isWhole = bytes.indexOf(SYSEX_END) === bytes.length - 1;
  const isClean = bytes.subarray(1, -1).every((byte) => byte < 0x80);
  return isWhole && isClean && bytes.length <= SYSEX_LIMIT ? { kind: 'sysex', bytes } : null;
}

function toSignal(event: MidiEvent): FileSignal | null {
  switch (event.type) {
    case 'sysEx':
      return wholeSysex(event.data);
    case 'noteOn':
    case 'noteOff': {
      const kind = event.type === 'noteOn' && event.velocity > 0 ? 'noteOn' : 'noteOff';
      return { kind, channel: event.channel, number: event.noteNumber, value: event.velocity };
    }
    case 'noteAftertouch':
      return { kind: 'polyPressure', channel: event.channel, number: event.noteNumber, value: event.amount };
    case 'controller':
      return {
        kind: 'controlChange',
        channel: event.channel,
        number: event.controllerType,
        value: event.value,
      };
    case 'programChange':
      return { kind: 'programChange', channel: event.channel, number: event.programNumber, value: 0 };
    case 'channelAftertouch':
      return { kind: 'channelPressure', channel: event.channel, number: 0, value: event.amount };
    case 'pitchBend':
      return { kind: 'pitchBend', channel: event.channel, number: 0, value: event.value + 8192 };
    default:
      return null;
  }
}

function flatten(bytes: Uint8Array): MidiFile {
  const parsed = parseMidi(bytes);
  const ticksPerBeat = parsed.header.ticksPerBeat ?? 480;
  const all: { tick: number; track: number; event: MidiEvent }[] = [];
  const trackNames: string[] = [];
  parsed.tracks.forEach((events, track) => {
    let tick = 0;
    trackNames[track] = '';
    for (const event of events) {
      tick += event.deltaTime;
      if (event.type === 'trackName') trackNames[track] = event.text;
      all.push({ tick, track, event });
    }
  });
  all.sort((a, b) => a.tick - b.tick || a.track - b.track);

  const events: FileEvent[] = [];
  let notPlayed = 0;
  let usPerBeat = 500_000;
  let tempo: number | null = null;
  let lastTick = 0;
  let atMs = 0;
  for (const { tick, track, event } of all) {
    atMs += ((tick - lastTick) * usPerBeat) / ticksPerBeat / 1000;
    lastTick = tick;
    if (event.type === 'setTempo') {
      usPerBeat = event.microsecondsPerBeat;
      tempo ??= 60_000_000 / usPerBeat;
    }
    const signal = toSignal(event);
    if (signal) events.push({ atMs, track, signal });
    else if (event.type === 'sysEx' || event.type === 'endSysEx') notPlayed++;
  }
  return { events, durationMs: atMs, tempo: tempo ?? 120, trackNames, notPlayed };
}

/** What `writeMidiFile` takes: signals with their time in ticks. */
export interface ScoreTrack {
  name: string;
  events: { tick: number; signal: FileSignal }[];
}

/**
 * Writes a format 1 file: a tempo track, then one for each given track.
 * @param tempo beats a minute. @param ticksPerBeat 1–32,767.
 */
export function writeMidiFile(tracks: ScoreTrack[], tempo: number, ticksPerBeat = 480): Uint8Array {
  const tempoTrack: MidiEvent[] = [
    { deltaTime: 0, type: 'setTempo', meta: true, microsecondsPerBeat: Math.round(60_000_000 / tempo) },
    { deltaTime: 0, type: 'endOfTrack', meta: true },
  ];
  const written = tracks.map((track): MidiEvent[] => {
    let last = 0;
    const events = [...track.events]
      .sort((a, b) => a.tick - b.tick)
      .map(({ tick, signal }) => {
        const deltaTime = tick - last;
        last = tick;
        return fromSignal(signal, deltaTime);
      });
    return [
      { deltaTime: 0, type: 'trackName', meta: true, text: track.name },
      ...events,
      { deltaTime: 0, type: 'endOfTrack', meta: true },
    ];
  });
  return Uint8Array.from(
    writeMidi({
      header: { format: 1, numTracks: written.length + 1, ticksPerBeat },
      tracks: [tempoTrack, ...written],
    }),
  );
}

function fromSignal(signal: FileSignal, deltaTime: number): MidiEvent {
  if (signal.kind === 'sysex')
    return { deltaTime, type: 'sysEx', data: [...signal.bytes.subarray(1)] as never };
  const { channel, number, value } = signal;
  switch (signal.kind) {
    case 'noteOn':
    case 'noteOff':
      return { deltaTime, type: signal.kind, channel, noteNumber: number, velocity: value };
    case 'polyPressure':
      return { deltaTime, type: 'noteAftertouch', channel, noteNumber: number, amount: value };
    case 'controlChange':
      return { deltaTime, type: 'controller', channel, controllerType: number, value };
    case 'programChange':
      return { deltaTime, type: 'programChange', channel, programNumber: number };
    case 'channelPressure':
      return { deltaTime, type: 'channelAftertouch', channel, amount: value };
    case 'pitchBend':
      return { deltaTime, type: 'pitchBend', channel, value: value - 8192 };
  }
}
