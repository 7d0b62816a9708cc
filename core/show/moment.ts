/** Moments: the rows of the running order. Each sends to several lines at once. */
import { z } from 'zod';
import { isCueNumber } from '../cues/number.js';
import {
  beats,
  nameOrNone,
  BENDS_NAMES,
  duration,
  finite,
  id,
  lineId,
  tempo,
  timecodeText,
  whole,
} from './fields.js';
import { lines } from './text.js';
import { hearSchema } from '../hears.js';
import { levelsSchema } from './look.js';
import { sendSchema } from '../sends.js';

const CUE = 'A cue number is written in digits and points, like 4, 4.5 or 12.1.3.';
const FADE = 'A fade is a time from 0 to 3600 s.';
const DELAY = 'A delay is a time from 0 to 600 s.';
const LOOPS = 'It plays 1 to 1000 times, or until it is stopped.';

const fade = { fadeMs: duration(3_600_000, FADE).default(0), fadeBeats: beats };
const delay = { delayMs: duration(600_000, DELAY).default(0), delayBeats: beats };
const curve = z.enum(BENDS_NAMES).default('straight');

const NEVER_LET_GO =
  'A moment never lets go, so the motion would run for ever. Choose “start, or trigger again”, and “stop” in a later moment.';
const momentSend = sendSchema.refine((send) => send.kind !== 'motion' || send.act !== 'press', {
  path: ['act'],
  message: NEVER_LET_GO,
});

/** One of the things that a moment does. All of them happen together, except those with a delay. */
export const momentSendSchema = z.discriminatedUnion('kind', [
  /** Anything that a mapping can send, with its value; over time, if there are values in between. */
  z.object({ kind: z.literal('send'), send: momentSend, value: finite, ...fade, curve }),
  /** Levels for slots. They fade from their current levels. */
  z.object({ kind: z.literal('levels'), lineId, ...delay, ...fade, curve, levels: levelsSchema }),
  /** A look of the show. Slots fade from their current levels. */
  z.object({ kind: z.literal('look'), lineId, ...delay, ...fade, curve, lookId: id.nullable() }),
  /** A MIDI file of the show. */
  z.object({
    kind: z.literal('file'),
    lineId,
    ...delay,
    fileId: id.nullable(),
    /** The tracks that are played, counted from 0. */
    tracks: z.union([
      z.literal('all'),
      z
        .array(whole(0, 999, 'A track is 1 to 1000.'))
        .min(1, 'Choose at least one track.')
        .max(64),
    ]),
    /** How often it is played; 0 to play until it is stopped. */
    times: whole(0, 1000, LOOPS).default(1),
    /** The first tempo of the file in beats a minute, its other tempos in proportion; null for the tempos of the file. */
    bpm: tempo.nullable().default(null),
  }),
]);
export type MomentSend = z.infer<typeof momentSendSchema>;
export type MomentSendKind = MomentSend['kind'];
export type MomentSendOf<K extends MomentSendKind> = Extract<MomentSend, { kind: K }>;
/** With the defaults for all that is not given. @throws ZodError */
export const makeMomentSend = (given: z.input<typeof momentSendSchema>): MomentSend =>
  momentSendSchema.parse(given);

const FOLLOW = 'It follows after 0 to 3600 s.';

export const momentSchema = z.object({
  id,
  cue: z.string().trim().refine(isCueNumber, CUE),
  name: nameOrNone,
  /** For the operator. */
  notes: lines(2000, 'Notes have at most 2000 characters.').default(''),
  /** True if it stays in the list but is skipped. */
  parked: z.boolean().default(false),
  /** Controls that call it, besides Go. */
  callers: z.array(hearSchema).max(8, 'At most eight controls call a moment.').default([]),
  /** How a call waits for the beat: it is called at once, or on the next beat or bar. */
  callOn: z.enum(['now', 'beat', 'bar']).default('now'),
  /** Called automatically, this long after the start or end of the moment before it; null if it waits for a person. */
  follow: z
    .object({ after: z.enum(['start', 'end']), ms: duration(3_600_000, FOLLOW), beats })
    .nullable()
    .default(null),
  /** The timecode at which it is called; null for none. */
  timecode: timecodeText.nullable().default(null),
  /** False if it is not called by its timecode. */
  timecodeOn: z.boolean().default(true),
  sends: z.array(momentSendSchema).max(400, 'A moment does at most 400 things.'),
});
export type Moment = z.infer<typeof momentSchema>;
/** With the defaults for all that is not given. @throws ZodError */
export const makeMoment = (given: z.input<typeof momentSchema>): Moment => momentSchema.parse(given);
