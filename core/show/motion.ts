/** Motions: make values over time and send them. */
import { z } from 'zod';
import { driveSchema } from '../motion/drive.js';
import { makeSchema } from '../motion/makes.js';
import { motionShapeSchema } from '../motion/shaping.js';
import { MOST_SENDS, sendSchema } from '../sends.js';
import { id, name, timecodeText, whole } from './fields.js';

const VOICES = 'A motion has 1 to 32 voices.';
const RATE = 'A motion sends 1 to 200 times a second.';
export const MOST_VOICES = 32;

/** The parts of a press that scale what a voice makes. */
export const SCALING = ['force', 'number', 'channel'] as const;
const SCALED = ['nothing', 'amount', 'speed', 'offset'] as const;
export type Scaled = (typeof SCALED)[number];
const scaled = z.enum(SCALED).default('nothing');

const placeSchema = z.object({
  from: timecodeText.nullable().default(null),
  until: timecodeText.nullable().default(null),
});

export const motionSchema = z.object({
  id,
  name,
  on: z.boolean().default(true),
  /** It only runs while this bank is on; null for always. */
  bankId: id.nullable().default(null),
  makes: makeSchema,
  drive: driveSchema.default(driveSchema.parse({})),
  /**
   * `always`: it runs by itself. `asked`: a mapping, a moment, another motion or a person starts it. `position`: it runs while the show's position runs
   * inside its place.
   */
  begins: z.enum(['always', 'asked', 'position']).default('always'),
  /** Where it runs if the position begins it, as timecodes. Without `until`, it runs on. */
  place: placeSchema.default(placeSchema.parse({})),
  /** How many presses can have a run of their own at once. With 1, each press triggers the same run again. */
  voices: whole(1, MOST_VOICES, VOICES).default(1),
  /** What the force, the number and the channel of a press scale: each as a part of its range, 1–127 and 1–16. */
  force: scaled,
  number: scaled,
  channel: scaled,
  shape: motionShapeSchema.default(motionShapeSchema.parse({})),
  sends: z.array(sendSchema).max(MOST_SENDS, 'A motion sends at most 8 things.'),
  /** How often it sends at most, in a second; null for 44 to DMX slots and 50 to all else. */
  perSecond: z.number(RATE).min(1, RATE).max(200, RATE).nullable().default(null),
  /** For notes: whether the next begins before the last one ends. */
  legato: z.boolean().default(false),
});
export type Motion = z.infer<typeof motionSchema>;
/** With the defaults for all that is not given. @throws ZodError */
export const makeMotion = (given: z.input<typeof motionSchema>): Motion => motionSchema.parse(given);
