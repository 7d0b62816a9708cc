/** Feedback to the control of a mapping: its lamp, or the position of its motor fader. */
import { z } from 'zod';
import { channel, id, lineId, number, whole } from './fields.js';

const LAMP = 'What a lamp wants is a number from 0 to 127.';
const lamp = whole(0, 127, LAMP);

export const answerSchema = z.object({
  /** The line that leads to the controller. */
  lineId,
  kind: z.enum(['note', 'control']),
  channel,
  /** The number of the first control, if the mapping hears a range. */
  number,
  /**
   * `value`: lit while what the mapping sent last is above 0. `bank`: while a bank is on. `position`: not a lamp, but the value at which
   * the control would send what the far end has now.
   */
  shows: z.enum(['value', 'bank', 'position']),
  bankId: id.nullable().default(null),
  /** The values that light the lamp and switch it off. */
  on: lamp.default(127),
  off: lamp.default(0),
  /** The lamp is on for the first half of this many beats, and off for the second; 0 if it does not blink. */
  blinkBeats: z.union([z.literal(0), z.literal(0.5), z.literal(1), z.literal(2), z.literal(4)]).default(0),
});
export type Answer = z.infer<typeof answerSchema>;
