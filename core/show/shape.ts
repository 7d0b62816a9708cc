/** How a mapping turns what it hears into what it sends. */
import { z } from 'zod';
import { words } from './text.js';
import { FORMULA_TOO_LONG, LONGEST_FORMULA, readFormula } from '../mapping/formula.js';
import { BENDS_NAMES, beats, duration, finite, scale, whole } from './fields.js';

export const CURVES = [
  ...BENDS_NAMES,
  'table',
  /** Converts a note number to its frequency in Hz. */
  'frequency',
  /** Uses `formula`. */
  'formula',
] as const;

const HUE = 'A hue is 0 to 360 degrees.';
const PERCENT = 'Saturation and brightness are 0 to 100 %.';
/** Which of the three the shaped value sets, in degrees or percent. The other two are fixed. */
export const colourSchema = z.object({
  of: z.enum(['hue', 'saturation', 'brightness']),
  hue: z.number(HUE).min(0, HUE).max(360, HUE),
  saturation: z.number(PERCENT).min(0, PERCENT).max(100, PERCENT),
  brightness: z.number(PERCENT).min(0, PERCENT).max(100, PERCENT),
});
export type Colour = z.infer<typeof colourSchema>;

const TEXT = 'A text has at most 100 characters.';

const UPWARDS = 'Write values that are heard in rising order, like 0 0, 64 0.2, 127 1.';

export const shapeSchema = z.object({
  /** What is shaped: the force or value, or the number of the note, controller, program or slot. */
  from: z.enum(['value', 'number']),
  in: scale.refine(([from, to]) => from !== to, { message: 'The two ends must differ, like 0-127.' }),
  /** If the first is larger than the second, the value is inverted. */
  out: scale,
  curve: z.enum(CURVES),
  /** For the curve `table`: pairs of heard and shaped value, in rising order. Values in between are interpolated. */
  table: z
    .array(z.tuple([finite, finite]))
    .max(64)
    .refine((points) => points.every(([x], at) => at === 0 || x > points[at - 1]![0]), UPWARDS)
    .default([]),
  /** For the curve `formula` (core/mapping/formula). */
  formula: z
    .string()
    .trim()
    // What is too long is not read.
    .max(LONGEST_FORMULA, { error: FORMULA_TOO_LONG, abort: true })
    .refine((text) => text === '' || readFormula(text).ok, {
      error: (issue) => {
        const read = readFormula(String(issue.input));
        return read.ok ? '' : read.reason;
      },
    })
    .default(''),
  /** For OSC: the values of texts that may be heard. Other texts are ignored. */
  texts: z
    .array(z.tuple([words(100, TEXT), finite]))
    .max(64, 'At most 64 texts.')
    .default([]),
  /** Added to the result of the curve. */
  offset: finite.default(0),
  /** The result is limited to this range; null for no limits. */
  limits: scale
    .refine(([low, high]) => low <= high, 'Write the lower limit first, like 10-90.')
    .nullable()
    .default(null),
  /** True if, after its bank was off, nothing passes until the control reaches the current value. */
  pickUp: z.boolean().default(false),
  /** Makes a colour from the shaped value. Its red, green and blue can be sent; null for none. */
  colour: colourSchema.nullable().default(null),
  /** A change of at most this much since the last value that passed is ignored. In the units of what is heard. */
  deadband: finite.min(0, 'A deadband is 0 or more.').default(0),
  /** The number of equal steps that the range is divided into; 0 for no steps. */
  steps: z
    .union([z.literal(0), whole(2, 1000, 'Steps are 2 or more, or 0 for none.')], {
      message: 'Steps are 2 to 1000, or 0 for none.',
    })
    .default(0),
  /** True to round to whole numbers. */
  round: z.boolean().default(false),
  /** The time in ms in which it moves to a new value. */
  glideMs: duration(60_000, 'A glide is a time from 0 to 60 000 ms.').default(0),
  glideBeats: beats,
  /**
   * What each press makes: its own value; one end of `out` and then the other; the next of `list`; a random value within
   * `out`; or, of a dial without ends, the place within `in` that its steps add up to.
   */
  each: z.enum(['value', 'toggle', 'list', 'dice', 'dial']).default('value'),
  /** For a relative dial: how steps up and down are coded. */
  coding: z.enum(['two', 'offset', 'sign']).default('two'),
  list: z.array(finite).max(64, 'A list has at most 64 values.').default([]),
});
export type Shape = z.infer<typeof shapeSchema>;
/** A shape with the defaults for all that is not given. @throws ZodError */
export const makeShape = (given: z.input<typeof shapeSchema>): Shape => shapeSchema.parse(given);
