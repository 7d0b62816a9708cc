/** Resolves the names in a moment: looks and groups become levels of slots, files become their events. */
import type { FileEvent, MidiFile } from '../midi/file.js';
import type { Group, Levels, Look } from '../show/look.js';
import { contentOf, type MidiFileRow } from '../show/midi-file.js';
import type { Moment, MomentSend, MomentSendOf } from '../show/moment.js';
import { inMs, type Span } from '../time/span.js';

/** Slots with their levels, each slot once. Of overlapping ranges the last counts. */
export type SlotLevels = readonly (readonly [slot: number, level: number])[];

/** The things that moments can name. */
export interface Stock {
  groups: readonly Group[];
  looks: readonly Look[];
  midiFiles: readonly MidiFileRow[];
}

export const EMPTY_STOCK: Stock = { groups: [], looks: [], midiFiles: [] };

/** One send of a moment with all names resolved. */
export type Expanded =
  | MomentSendOf<'send'>
  | (Omit<MomentSendOf<'levels'>, 'levels'> & { levels: SlotLevels })
  | (Omit<MomentSendOf<'file'>, 'fileId'> & { events: readonly FileEvent[]; lengthMs: number });

function slotLevels(levels: Levels, { groups }: Stock): SlotLevels {
  const found = new Map<number, number>();
  for (const one of levels) {
    const ranges = 'slots' in one ? [one.slots] : (groups.find(({ id }) => id === one.groupId)?.slots ?? []);
    for (const [from, to] of ranges) for (let slot = from; slot <= to; slot++) found.set(slot, one.level);
  }
  return [...found];
}

/** Returns the events of the given tracks at the given tempo. */
export function eventsOf(
  file: MidiFile,
  tracks: MomentSendOf<'file'>['tracks'],
  bpm: number | null,
): { events: FileEvent[]; lengthMs: number } {
  const stretch = bpm === null ? 1 : file.tempo / bpm;
  const events = file.events
    .filter(({ track }) => tracks === 'all' || tracks.includes(track))
    .map((event) => ({ ...event, atMs: event.atMs * stretch }));
  return { events, lengthMs: file.durationMs * stretch };
}

/** @returns null if a name is missing, or a file cannot be read */
function expandSend(given: MomentSend, stock: Stock): Expanded | null {
  switch (given.kind) {
    case 'send':
      return given;
    case 'levels':
      return { ...given, levels: slotLevels(given.levels, stock) };
    case 'look': {
      const { lookId, ...rest } = given;
      const look = stock.looks.find(({ id }) => id === lookId);
      return look ? { ...rest, kind: 'levels', levels: slotLevels(look.levels, stock) } : null;
    }
    case 'file': {
      const { fileId, ...rest } = given;
      const row = stock.midiFiles.find(({ id }) => id === fileId);
      const content = row && contentOf(row);
      return content ? { ...rest, ...eventsOf(content, given.tracks, given.bpm) } : null;
    }
  }
}

export const expandMoment = ({ sends }: Moment, stock: Stock): Expanded[] =>
  sends.flatMap((given) => expandSend(given, stock) ?? []);

/** Returns the delay after the call of its moment. */
export function delayOf(given: MomentSend | Expanded): Span {
  const { delayMs: ms, delayBeats: beats } = given.kind === 'send' ? given.send : given;
  return { ms, beats };
}

/** Returns how long it fades or glides. */
export const fadeOf = (given: MomentSend | Expanded): Span =>
  given.kind === 'file' ? inMs(0) : { ms: given.fadeMs, beats: given.fadeBeats };
