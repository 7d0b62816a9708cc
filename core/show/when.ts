/** When a mapping heeds what it hears. */
import { z } from 'zod';
import { channel, duration, finite, id, number } from './fields.js';

const TIME = 'A time from 0 to 60 000 ms; 0 for no matter when.';
/** When a mapping that hears something heeds it. */
export const whenSchema = z.object({
  /** At most once in so many ms; what comes between is not heeded. */
  onceInMs: duration(60_000, TIME).default(0),
  /** Only the second of two within so many ms. */
  twiceInMs: duration(60_000, TIME).default(0),
  /** Of what is held: only once it has been held for so many ms. */
  heldForMs: duration(60_000, TIME).default(0),
  /** Only another value than the one before. */
  changed: z.boolean().default(false),
  /** Only as the value becomes at least `at`, or falls below it; it must come back by `back` before it counts again. */
  crossing: z
    .object({ way: z.enum(['rises', 'falls']), at: finite, back: finite.min(0).default(0) })
    .nullable()
    .default(null),
  /** Only while this note is held, on the line that the mapping hears: a shift pad. */
  shift: z.object({ channel, number }).nullable().default(null),
  /** Only while this bank is on. */
  bankId: id.nullable().default(null),
});
export type When = z.infer<typeof whenSchema>;
export const ALWAYS: When = whenSchema.parse({});
