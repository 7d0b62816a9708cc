/** How a mapping makes of what is heard what is sent. */
import { z } from 'zod';
import { words } from './text.js';
import { readFormula } from '../mapping/formula.js';
import { BENDS_NAMES, duration, finite, scale, whole } from './fields.js';

export const CURVES = [
  ...BENDS_NAMES,
  'table',
  /** A note's number becomes its frequency in Hz. */
  'frequency',
  /** `formula` says what it becomes. */
  'formula',
] as const;

const HUE = 'A hue is 0 to 360 degrees.';
const PERCENT = 'Saturation and brightness are 0 to 100 %.';
/** Which of the three the shaped value is; the other two stay. The shaped value is in degrees, or in percent. */
const colourSchema = z.object({
  of: z.enum(['hue', 'saturation', 'brightness']),
  hue: z.number(HUE).min(0, HUE).max(360, HUE),
  saturation: z.number(PERCENT).min(0, PERCENT).max(100, PERCENT),
  brightness: z.number(PERCENT).min(0, PERCENT).max(100, PERCENT),
});
export type Colour = z.infer<typeof colourSchema>;

const TEXT = 'A text has at most 100 characters.';

const UPWARDS = 'Write values that are heard in rising order, like 0 0, 64 0.2, 127 1.';

export const shapeSchema = z.object({
  /** What is shaped: the force or value, or the note's, controller's, program's or slot's own number. */
  from: z.enum(['value', 'number']),
  in: scale.refine(([from, to]) => from !== to, { message: 'The two ends must differ, like 0-127.' }),
  /** Ends the other way round turn the value over. */
  out: scale,
  curve: z.enum(CURVES),
  /** Of the curve `table`: what each of these heard values becomes; straight between them. In rising order. */
  table: z
    .array(z.tuple([finite, finite]))
    .max(64)
    .refine((points) => points.every(([x], at) => at === 0 || x > points[at - 1]![0]), UPWARDS)
    .default([]),
  /** Of the curve `formula`; core/mapping/formula reads it. */
  formula: z
    .string()
    .trim()
    .max(300, 'A formula has at most 300 characters.')
    .refine((text) => text === '' || readFormula(text).ok, {
      error: (issue) => {
        const read = readFormula(String(issue.input));
        return read.ok ? '' : read.reason;
      },
    })
    .default(''),
  /** Of OSC: what a text that is heard counts as. Other texts are not heeded. */
  texts: z
    .array(z.tuple([words(100, TEXT), finite]))
    .max(64, 'At most 64 texts.')
    .default([]),
  /** Added to what was made. */
  offset: finite.default(0),
  /** It stays within these; null: it may be anything. */
  limits: scale
    .refine(([low, high]) => low <= high, 'Write the lower limit first, like 10-90.')
    .nullable()
    .default(null),
  /** After its bank was off, nothing passes until the control has come to where it was. */
  pickUp: z.boolean().default(false),
  /** The shaped value is a part of a colour, whose red, green and blue can be sent. */
  colour: colourSchema.nullable().default(null),
  /** A change of at most this from what passed last, in the units of what is heard, does not pass. */
  deadband: finite.min(0, 'A deadband is 0 or more.').default(0),
  /** So many equal steps instead of every value between; 0 for all of them. */
  steps: z
    .union([z.literal(0), whole(2, 1000, 'Steps are 2 or more, or 0 for none.')], {
      message: 'Steps are 2 to 1000, or 0 for none.',
    })
    .default(0),
  /** Whole numbers only. */
  round: z.boolean().default(false),
  /** How long it takes to reach a new value, in ms. */
  glideMs: duration(60_000, 'A glide is a time from 0 to 60 000 ms.').default(0),
  /**
   * What each press makes: its own value; one end of `out` and then the other; the next of `list`; a random value within
   * `out`; or, of a dial without ends, the place within `in` that its steps add up to.
   */
  each: z.enum(['value', 'toggle', 'list', 'dice', 'dial']).default('value'),
  /** Of a dial that says how far it was turned: how steps down are told from steps up. */
  coding: z.enum(['two', 'offset', 'sign']).default('two'),
  list: z.array(finite).max(64, 'A list has at most 64 values.').default([]),
});
export type Shape = z.infer<typeof shapeSchema>;
/** A shape with the defaults for all that is not given. @throws ZodError */
export const makeShape = (given: z.input<typeof shapeSchema>): Shape => shapeSchema.parse(given);
