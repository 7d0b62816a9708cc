/** Where the show's position comes from and goes to, and how it is kept. Rows are in the order of preference. */
import { z } from 'zod';
import { FRAME_RATES } from '../timecode/frame-rate.js';
import { duration, id, lineId, sentAddress, whole } from './fields.js';

const RATE = 'Choose one of the frame rates.';
export const frameRate = z.enum(FRAME_RATES, RATE);

const DAY_MS = 86_400_000;
const OFFSET = 'An offset is at most 24 hours, forward or back.';
/** Added to what is heard or sent, in ms. */
const offsetMs = z.number(OFFSET).min(-DAY_MS, OFFSET).max(DAY_MS, OFFSET).default(0);

export const timeSourceSchema = z.object({
  id,
  /** The line that is listened to. */
  lineId,
  /** MIDI timecode for the position, machine control that plays and stops our own, or MIDI clock for the tempo. */
  kind: z.enum(['mtc', 'mmc', 'clock']).default('mtc'),
  /** The frame rate that it has; null for the one that it says, or that of the show if it says no more than that. */
  frameRate: frameRate.nullable().default(null),
  offsetMs,
});
export type TimeSource = z.infer<typeof timeSourceSchema>;

const sent = {
  id,
  lineId,
  offsetMs,
  /** The frame rate that is sent; null for that of the show. */
  frameRate: frameRate.nullable().default(null),
  on: z.boolean().default(true),
};
const PER_SECOND = 'It is sent 1 to 100 times a second.';
export const timeOutputSchema = z.discriminatedUnion('kind', [
  /** MIDI timecode: quarter frames in play, a full message where it stops or jumps. */
  z.object({ ...sent, kind: z.literal('mtc') }),
  /** Machine control: play, stop and locate as the position runs, stops and jumps. */
  z.object({ ...sent, kind: z.literal('mmc') }),
  /** MIDI clock: 24 a beat; with start, stop and song position as the position runs and stops, if that is wanted. */
  z.object({ ...sent, kind: z.literal('clock'), startStop: z.boolean().default(true) }),
  /** An OSC message with the position in seconds and as a text. */
  z.object({
    ...sent,
    kind: z.literal('osc'),
    address: sentAddress.default('/time'),
    perSecond: whole(1, 100, PER_SECOND).default(25),
  }),
]);
export type TimeOutput = z.infer<typeof timeOutputSchema>;

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
