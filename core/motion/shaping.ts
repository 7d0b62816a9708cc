/** What a motion makes of the value 0–1 that its source gives: amount, offset, curve, steps, limits, and notes of a scale. */
import { z } from 'zod';
import { duration, whole } from '../show/fields.js';
import { colourSchema } from '../show/shape.js';
import { curveFields, curveOf } from './curves.js';
import { notesOf, scaleSchema } from './scale.js';

const AMOUNT = 'An amount is -200 to 200 %.';
const OFFSET = 'An offset is -100 to 100 %.';
const LIMIT = 'Limits are 0 to 100 %.';
const limit = z.number(LIMIT).min(0, LIMIT).max(1, LIMIT);

export const motionShapeSchema = z.object({
  /** How much of its range it moves through: 1 is all of it. Below 0 it is upside down. */
  amount: z.number(AMOUNT).min(-2, AMOUNT).max(2, AMOUNT).default(1),
  /** Added to the result: -1–1. */
  offset: z.number(OFFSET).min(-1, OFFSET).max(1, OFFSET).default(0),
  /** True if `amount` counts from the middle both ways; else from the lowest value up. */
  bothWays: z.boolean().default(false),
  ...curveFields,
  /** Equal steps; 0 for none. */
  steps: z
    .union([z.literal(0), whole(2, 1000, 'Steps are 2 or more, or 0 for none.')], {
      message: 'Steps are 2 to 1000, or 0 for none.',
    })
    .default(0),
  limits: z
    .tuple([limit, limit])
    .refine(([low, high]) => low <= high, 'Write the lower limit first, like 10 to 90 %.')
    .default([0, 1]),
  /** The time in ms in which it follows a jump by two thirds. */
  smoothMs: duration(60_000, 'Smoothing is 0 to 60 s.').default(0),
  /** If not null, it gives notes of a scale: the lowest at 0, the highest at 1. */
  scale: scaleSchema.nullable().default(null),
  colour: colourSchema.nullable().default(null),
});
export type MotionShape = z.infer<typeof motionShapeSchema>;

/** What can be moved while it runs. */
export interface Moved {
  amount: number;
  offset: number;
}

/** @returns a function that makes 0–1 of 0–1; with a scale, it makes note numbers */
export function compileMotionShape(shape: MotionShape): (value: number, moved: Moved) => number {
  const curve = curveOf(shape);
  const notes = shape.scale ? notesOf(shape.scale) : null;
  const [low, high] = shape.limits;
  const middle = shape.bothWays ? 0.5 : 0;
  return (value, { amount, offset }) => {
    const moved = middle + (value - middle) * amount + offset;
    let made = curve(Math.max(0, Math.min(1, moved)));
    if (shape.steps > 0) made = Math.round(made * (shape.steps - 1)) / (shape.steps - 1);
    made = Math.max(low, Math.min(high, made));
    return notes ? notes[Math.min(notes.length - 1, Math.floor(made * notes.length))]! : made;
  };
}
