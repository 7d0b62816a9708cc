/** Moments: the rows of the running order. Each sends to several lines at once. */
import { z } from 'zod';
import { isCueNumber } from '../cues/number.js';
import { BENDS_NAMES, duration, finite, id, lineId, span, whole } from './fields.js';
import { hearSchema } from './hear.js';
import { sendSchema } from './send.js';

const CUE = 'A cue number is written in digits and points, like 4, 4.5 or 12.1.3.';
const FADE = 'A fade is a time from 0 to 3600 s.';
const DELAY = 'A delay is a time from 0 to 600 s.';
const LEVEL = 'A level is 0 to 255, or 0 to 100 %.';
const SLOTS = 'Slots are 1 to 512.';

const fadeMs = duration(3_600_000, FADE).default(0);
const delayMs = duration(600_000, DELAY).default(0);
const curve = z.enum(BENDS_NAMES).default('straight');

/** One of the things that a moment does. Everything of a moment leaves together, unless it has a delay. */
export const momentSendSchema = z.discriminatedUnion('kind', [
  /** Anything that a mapping can send, with the value that it sends; over a time, where it can have values between. */
  z.object({ kind: z.literal('send'), send: sendSchema, value: finite, fadeMs, curve }),
  /** Levels for slots, from where they are. */
  z.object({
    kind: z.literal('levels'),
    lineId,
    delayMs,
    fadeMs,
    curve,
    levels: z
      .array(z.object({ slots: span(1, 512, SLOTS), level: whole(0, 255, LEVEL) }))
      .min(1, 'Write slots and levels, like 1-12 at 50 %, 101 at full.')
      .max(64, 'At most 64 ranges of slots.'),
  }),
]);
export type MomentSend = z.infer<typeof momentSendSchema>;
export type MomentSendKind = MomentSend['kind'];
export type LevelsSend = Extract<MomentSend, { kind: 'levels' }>;
/** With the defaults for all that is not given. @throws ZodError */
export const makeMomentSend = (given: z.input<typeof momentSendSchema>): MomentSend =>
  momentSendSchema.parse(given);

const FOLLOW = 'It follows after 0 to 3600 s.';

export const momentSchema = z.object({
  id,
  cue: z.string().trim().refine(isCueNumber, CUE),
  name: z.string().trim().max(60, 'A name has at most 60 characters.'),
  /** For the operator. */
  notes: z.string().trim().max(2000, 'Notes have at most 2000 characters.').default(''),
  /** Kept, and passed over. */
  parked: z.boolean().default(false),
  /** Controls that call it, besides Go. */
  callers: z.array(hearSchema).max(8, 'At most eight controls call a moment.').default([]),
  /** It is called by the one before it, so long after that one's start or end; null where it waits for somebody. */
  follow: z
    .object({ after: z.enum(['start', 'end']), ms: duration(3_600_000, FOLLOW) })
    .nullable()
    .default(null),
  sends: z.array(momentSendSchema).max(400, 'A moment does at most 400 things.'),
});
export type Moment = z.infer<typeof momentSchema>;
/** With the defaults for all that is not given. @throws ZodError */
export const makeMoment = (given: z.input<typeof momentSchema>): Moment => momentSchema.parse(given);
