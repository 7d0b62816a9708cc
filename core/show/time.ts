/** How the show keeps its position. Where it comes from and goes to: core/time/ways. */
import { z } from 'zod';
import { frameRate } from '../time/ways/way.js';
import { duration, whole } from './fields.js';

const RIDE = 'A gap of 0 to 10 s is ridden through.';
const LATE = 'A moment is called up to 0 to 10 s late.';
export const timecodeSettingsSchema = z.object({
  /** The rate in which timecodes of the show are written. */
  frameRate: frameRate.default('25'),
  /** How many frames in a row must be good before a source is followed, and before a jump is believed. */
  lockFrames: whole(1, 60, 'A source is followed after 1 to 60 good frames.').default(4),
  /** How long a source may be silent before it is lost, in ms. */
  rideMs: duration(10_000, RIDE).default(500),
  /** What the position does when a source is lost and no other is there. */
  afterGap: z.enum(['hold', 'stop', 'runOn']).default('hold'),
  /** Whether a source that is preferred is followed again when it is back. */
  goesBack: z.boolean().default(true),
  /** What is done after a jump, once the position runs on from there. */
  afterJump: z.enum(['nothing', 'catchUp', 'callRunning']).default('nothing'),
  /** Moments that are due this long before a source was first heard are called too, in ms. */
  lateMs: duration(10_000, LATE).default(200),
});
export type TimecodeSettings = z.infer<typeof timecodeSettingsSchema>;
export const TIMECODE_SETTINGS: TimecodeSettings = timecodeSettingsSchema.parse({});
