/** How fast a motion goes through its cycles or steps: in time, in beats, or only when it is stepped. */
import { z } from 'zod';
import { SHORTEST_BEATS, MOST_BEATS } from '../time/span.js';

const EVERY = 'Write a time from 10 ms to 1 h, or a rate like 0.5 Hz.';
const BEATS = `Write 1/16 to ${MOST_BEATS} beats.`;
const PHASE = 'A phase is 0 to 100 %.';

export const FASTEST_MS = 10;
export const SLOWEST_MS = 3_600_000;

export const driveSchema = z.object({
  /** `steps`: it only moves when a mapping, a moment or another motion steps it. */
  by: z.enum(['time', 'steps']).default('time'),
  /** The length of a cycle of a wave, or of one step of everything else. */
  everyMs: z.number(EVERY).min(FASTEST_MS, EVERY).max(SLOWEST_MS, EVERY).default(4000),
  /** The same in beats, which counts instead; null if the time does. */
  everyBeats: z.number(BEATS).min(SHORTEST_BEATS, BEATS).max(MOST_BEATS, BEATS).nullable().default(null),
  /** Where in its cycle it begins: 0–1. */
  phase: z.number(PHASE).min(0, PHASE).max(1, PHASE).default(0),
  /** True if its cycles are counted from the first bar of the song, so that it is in step with the beat; else from its beginning. */
  inStep: z.boolean().default(true),
});
export type Drive = z.infer<typeof driveSchema>;
