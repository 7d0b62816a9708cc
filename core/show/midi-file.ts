/** MIDI files that are stored in the show, so that it is complete wherever it is opened. */
import { z } from 'zod';
import { bytesOfBase64 } from '../base64.js';
import { readMidiFile, type MidiFile } from '../midi/file.js';
import { id, name } from './fields.js';

export const MOST_FILE_BYTES = 512 * 1024;
/** More than any piece has that somebody plays, and still read in a tenth of a second. */
const MOST_EVENTS = 100_000;
const TOO_MANY = `A MIDI file has at most ${MOST_EVENTS} messages here. Split it into several.`;
const TOO_LONG = `A MIDI file has at most ${MOST_FILE_BYTES / 1024} KB here.`;

function whyNot(text: string): string | null {
  const bytes = bytesOfBase64(text);
  if (!bytes) return 'The bytes of the file are no base64.';
  const read = readMidiFile(bytes);
  if (!read.ok) return read.reason;
  return read.file.events.length > MOST_EVENTS ? TOO_MANY : null;
}

export const midiFileSchema = z.object({
  id,
  name,
  /** The file's bytes, in base64. */
  data: z
    .string()
    .max(Math.ceil(MOST_FILE_BYTES / 3) * 4, { error: TOO_LONG, abort: true })
    .refine((text) => whyNot(text) === null, { error: (issue) => whyNot(String(issue.input)) ?? '' }),
});
export type MidiFileRow = z.infer<typeof midiFileSchema>;

const read = new WeakMap<MidiFileRow, MidiFile | null>();

/** Returns the content of the file; null if it cannot be read. Each row is read once. */
export function contentOf(row: MidiFileRow): MidiFile | null {
  const known = read.get(row);
  if (known !== undefined) return known;
  const bytes = bytesOfBase64(row.data);
  const result = bytes && readMidiFile(bytes);
  const content = result?.ok ? result.file : null;
  read.set(row, content);
  return content;
}
