/** What a show could have made sound or held down, known or not: what Panic releases besides what is known to sound. */
import { type Send, compileSend, followsNumber } from './sends.js';
import { allFileNotes, allSends } from './show/all-sends.js';
import type { Show } from './show.js';
import type { ChannelSignal, Signal } from './signal.js';

/** Channel mode and pedal messages (MIDI 1.0 Detailed Specification, "Channel Mode Messages" and controller 64). */
const ALL_NOTES_OFF = 123;
const SUSTAIN = 64;
const HIGHEST = 127;
const CHANNELS = 16;

interface OnLine {
  /** Notes, as channel << 7 | number. */
  notes: Set<number>;
  channels: Set<number>;
  keys: Set<string>;
}

const made = new WeakMap<Show, ReadonlyMap<string, readonly Signal[]>>();

/**
 * By line: key-ups, note-offs for every note that a send or a MIDI file can press, and pedal up and all notes off on their
 * channels and on those that routes let through. At most 2,080 MIDI messages a line. The same show is read once.
 */
export function couldSound(show: Show): ReadonlyMap<string, readonly Signal[]> {
  const known = made.get(show);
  if (known) return known;
  const found = findAll(show);
  made.set(show, found);
  return found;
}

function findAll(show: Show): Map<string, Signal[]> {
  const lines = new Map<string, OnLine>();

  function on(lineId: string): OnLine {
    let line = lines.get(lineId);
    if (!line) lines.set(lineId, (line = { notes: new Set(), channels: new Set(), keys: new Set() }));
    return line;
  }

  function addSend(send: Send): void {
    if (send.lineId === null) return;
    const { releases, later } = compileSend(send);
    const last = followsNumber(send) ? HIGHEST : 0;
    for (const signal of [...releases, ...later.flatMap((step) => step.signals)]) {
      if (signal.kind === 'key') on(send.lineId).keys.add(signal.code);
      if (signal.kind !== 'noteOff') continue;
      const { notes, channels } = on(send.lineId);
      channels.add(signal.channel);
      for (let number = signal.number; number <= Math.max(signal.number, last); number++)
        notes.add((signal.channel << 7) | number);
    }
  }

  for (const send of allSends(show)) addSend(send);
  for (const { lineId, channel, number } of allFileNotes(show)) {
    on(lineId).notes.add((channel << 7) | number);
    on(lineId).channels.add(channel);
  }
  for (const route of show.routes) {
    if (route.carries !== 'midi' || route.toId === null) continue;
    const { channels } = on(route.toId);
    if (route.channels === 'any') for (let channel = 0; channel < CHANNELS; channel++) channels.add(channel);
    else
      for (const { from, to } of route.channels) {
        const [low, high] = to ?? from;
        for (let channel = low; channel <= high; channel++) channels.add(channel);
      }
  }
  return new Map([...lines].map(([lineId, line]) => [lineId, releasesOf(line)]));
}

function releasesOf({ notes, channels, keys }: OnLine): Signal[] {
  const control = (channel: number, number: number): ChannelSignal => ({
    kind: 'controlChange',
    channel,
    number,
    value: 0,
  });
  return [
    ...[...keys].map((code): Signal => ({ kind: 'key', code, down: false })),
    ...[...notes].map((note): Signal => ({
      kind: 'noteOff',
      channel: note >> 7,
      number: note & HIGHEST,
      value: 0,
    })),
    ...[...channels].flatMap((channel) => [control(channel, SUSTAIN), control(channel, ALL_NOTES_OFF)]),
  ];
}
