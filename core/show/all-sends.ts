/** Finds all that a show can send, whatever kind of row it belongs to. A new kind of row says here what it sends. */
import { notesOf } from '../motion/scale.js';
import type { Send } from '../sends.js';
import type { Show } from '../show.js';
import { contentOf } from './midi-file.js';
import type { RowOf, TableName } from './tables.js';

type SendsOf = { readonly [T in TableName]: (row: RowOf[T]) => readonly Send[] };

const NOTHING = (): readonly Send[] => [];

/** The sends of a row of each kind. What passes lines as it is, and MIDI files, are not sends: see below. */
const SENDS_OF: SendsOf = {
  lines: NOTHING,
  banks: NOTHING,
  mappings: ({ sends }) => sends,
  routes: NOTHING,
  layouts: NOTHING,
  moments: ({ sends }) => sends.flatMap((one) => (one.kind === 'send' ? [one.send] : [])),
  groups: NOTHING,
  looks: NOTHING,
  midiFiles: NOTHING,
  timeSources: NOTHING,
  timeOutputs: NOTHING,
  tempoMarks: NOTHING,
  // A motion that plays a scale presses each of its notes.
  motions: ({ sends, shape: { scale } }) =>
    scale === null
      ? sends
      : sends.flatMap((send): readonly Send[] =>
          send.kind === 'note'
            ? notesOf(scale).map((number) => ({ ...send, number, follows: false }))
            : [send],
        ),
};
export const TABLES_WITH_SENDS = (Object.keys(SENDS_OF) as TableName[]).filter(
  (table) => SENDS_OF[table] !== NOTHING,
);

/** Iterates over every send of a show. */
export function* allSends(show: Show): Iterable<Send> {
  for (const table of TABLES_WITH_SENDS) {
    const sendsOf = SENDS_OF[table] as (row: unknown) => readonly Send[];
    for (const row of show[table]) yield* sendsOf(row);
  }
}

/** Iterates over the notes that moments play from MIDI files, each with its line. */
export function* allFileNotes({
  moments,
  midiFiles,
}: Show): Iterable<{ lineId: string; channel: number; number: number }> {
  for (const moment of moments)
    for (const one of moment.sends) {
      if (one.kind !== 'file' || one.lineId === null) continue;
      const row = midiFiles.find(({ id }) => id === one.fileId);
      for (const { signal } of (row && contentOf(row)?.events) ?? [])
        if (signal.kind === 'noteOn')
          yield { lineId: one.lineId, channel: signal.channel, number: signal.number };
    }
}
