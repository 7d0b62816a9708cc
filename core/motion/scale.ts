/** The notes of a scale: which of the twelve belong to it, from a root on, within a range. */
import { z } from 'zod';
import { number, whole } from '../show/fields.js';

const NOTES = 'A scale has 1 to 12 of the twelve notes.';

export const scaleSchema = z
  .object({
    /** Semitones above the root that belong to it: 0–11. */
    notes: z
      .array(whole(0, 11, NOTES))
      .min(1, 'Choose at least one note of the scale.')
      .max(12, NOTES)
      .refine((notes) => new Set(notes).size === notes.length, NOTES),
    /** 0 is C. */
    root: whole(0, 11, 'A root is one of the twelve notes.'),
    /** The lowest and the highest note. */
    low: number,
    high: number,
  })
  .refine(({ low, high }) => low <= high, { message: 'Write the lower note first.', path: ['low'] })
  .refine((scale) => notesOf(scale).length > 0, {
    message: 'No note of the scale is in this range. Make the range larger.',
    path: ['low'],
  });
export type MotionScale = z.infer<typeof scaleSchema>;
interface ScaleParts {
  notes: readonly number[];
  root: number;
  low: number;
  high: number;
}

/** Its notes, the lowest first. */
export function notesOf({ notes, root, low, high }: ScaleParts): number[] {
  const wanted = new Set(notes.map((note) => (note + root) % 12));
  const found: number[] = [];
  for (let note = low; note <= high; note++) if (wanted.has(note % 12)) found.push(note);
  return found;
}

/** Common scales, as semitones above the root (common practice). */
export const SCALES: readonly { name: string; notes: readonly number[] }[] = [
  { name: 'major', notes: [0, 2, 4, 5, 7, 9, 11] },
  { name: 'minor', notes: [0, 2, 3, 5, 7, 8, 10] },
  { name: 'dorian', notes: [0, 2, 3, 5, 7, 9, 10] },
  { name: 'mixolydian', notes: [0, 2, 4, 5, 7, 9, 10] },
  { name: 'major pentatonic', notes: [0, 2, 4, 7, 9] },
  { name: 'minor pentatonic', notes: [0, 3, 5, 7, 10] },
  { name: 'whole tone', notes: [0, 2, 4, 6, 8, 10] },
  { name: 'chromatic', notes: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11] },
];
