/** Layouts: the controls of one model of controller, and how they are arranged. */
import { z } from 'zod';
import { channel, id, lineId, name, number, whole } from './fields.js';

const LAMP = 'What a lamp wants is a number from 0 to 127.';
const lamp = whole(0, 127, LAMP);
const PLACE = 'A place is a number from 0 to 63.';
const SIZE = 'A size is a number from 1 to 16.';

export const CONTROL_SHAPES = ['pad', 'button', 'fader', 'knob'] as const;

export const layoutControlSchema = z.object({
  id,
  name,
  shape: z.enum(CONTROL_SHAPES),
  /** The message that it sends. A pitch bend has no number, and 0 stands for it. */
  kind: z.enum(['note', 'control', 'bend']),
  channel,
  number,
  /** Its position and size, in columns and rows of the drawing. */
  x: whole(0, 63, PLACE),
  y: whole(0, 63, PLACE),
  width: whole(1, 16, SIZE).default(1),
  height: whole(1, 16, SIZE).default(1),
  /** The values that its lamp is sent; null if it has no lamp. */
  lamp: z.object({ on: lamp, off: lamp }).nullable().default(null),
});
export type LayoutControl = z.infer<typeof layoutControlSchema>;

export const MOST_CONTROLS = 256;

export const layoutSchema = z.object({
  id,
  name,
  /** The line that the controller is on. */
  lineId,
  controls: z
    .array(layoutControlSchema)
    .max(MOST_CONTROLS, `A layout has at most ${MOST_CONTROLS} controls.`),
});
export type Layout = z.infer<typeof layoutSchema>;
