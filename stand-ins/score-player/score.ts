/** A MIDI file as a list of messages in time, read by a package that is not the one core uses. */
import { read, serialize, type AnyEvent } from 'midifile-ts';

export interface Score {
  /** In the order of time, at the file's own tempo. */
  messages: { atMs: number; bytes: number[] }[];
  durationMs: number;
  /** Beats a minute at the beginning. */
  tempo: number;
}

export function readScore(file: Uint8Array): Score {
  // A Buffer reads differently from the plain array of bytes that the package expects.
  const { header, tracks } = read(Uint8Array.from(file));
  const all: { tick: number; track: number; event: AnyEvent }[] = [];
  tracks.forEach((events, track) => {
    let tick = 0;
    for (const event of events) {
      tick += event.deltaTime;
      all.push({ tick, track, event });
    }
  });
  all.sort((a, b) => a.tick - b.tick || a.track - b.track);

  const messages: Score['messages'] = [];
  let usPerBeat = 500_000;
  let tempo: number | null = null;
  let lastTick = 0;
  let atMs = 0;
  for (const { tick, event } of all) {
    atMs += ((tick - lastTick) * usPerBeat) / header.ticksPerBeat / 1000;
    lastTick = tick;
    if (event.type === 'meta' && event.subtype === 'setTempo') {
      usPerBeat = event.microsecondsPerBeat;
      tempo ??= 60_000_000 / usPerBeat;
    }
    // A file has the length of a system-exclusive message in place of its first byte.
    if (event.type === 'sysEx') messages.push({ atMs, bytes: [0xf0, ...event.data] });
    if (event.type === 'channel') messages.push({ atMs, bytes: serialize(event, false) });
  }
  return { messages, durationMs: atMs, tempo: tempo ?? 120 };
}
