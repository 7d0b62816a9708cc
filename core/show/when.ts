/** The conditions of a mapping. */
import { z } from 'zod';
import { channel, duration, finite, id, number } from './fields.js';

const TIME = 'A time from 0 to 60 000 ms; 0 for no matter when.';
/** The conditions under which a mapping accepts what it hears. */
export const whenSchema = z.object({
  /** Accepts at most one message in this many ms; 0 for no limit. */
  onceInMs: duration(60_000, TIME).default(0),
  /** Accepts only the second of two messages within this many ms; 0 for every message. */
  twiceInMs: duration(60_000, TIME).default(0),
  /** Fires only after the control was held for this many ms; 0 to fire at once. */
  heldForMs: duration(60_000, TIME).default(0),
  /** True to accept only values that differ from the last one. */
  changed: z.boolean().default(false),
  /** Accepts only the value that rises to `at`, or falls below it. It must return by `back` before it counts again. */
  crossing: z
    .object({ way: z.enum(['rises', 'falls']), at: finite, back: finite.min(0).default(0) })
    .nullable()
    .default(null),
  /** Accepts only while this note is held on the same line, like a shift key; null for always. */
  shift: z.object({ channel, number }).nullable().default(null),
  /** Accepts only while this bank is on; null for always. */
  bankId: id.nullable().default(null),
});
export type When = z.infer<typeof whenSchema>;
export const ALWAYS: When = whenSchema.parse({});
