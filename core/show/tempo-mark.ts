/** A place in the show's position at which the tempo is known: from there on it is so fast, and a bar begins. */
import { z } from 'zod';
import { id, tempo, timecodeText } from './fields.js';
import { line as text } from './text.js';

export const tempoMarkSchema = z.object({
  id,
  /** What begins there, such as `Chorus`; may be empty. */
  name: text(60, 'A name has at most 60 characters.').default(''),
  timecode: timecodeText,
  /** Beats a minute, at the speed at which the show is written. */
  bpm: tempo,
});
export type TempoMark = z.infer<typeof tempoMarkSchema>;
