/** Groups of slots, and looks: named levels that moments send. */
import { z } from 'zod';
import { id, name, span, whole } from './fields.js';

const LEVEL = 'A level is 0 to 255, or 0 to 100 %.';
const SLOTS = 'Slots are 1 to 512.';
const level = whole(0, 255, LEVEL);
const slots = span(1, 512, SLOTS);

/** Levels of slots, or of the slots of a group. */
export const levelsSchema = z
  .array(z.union([z.object({ slots, level }), z.object({ groupId: id, level })]))
  .min(1, 'Write slots and levels, like 1-12 at 50 %, 101 at full.')
  .max(512, 'At most 512 ranges of slots.');
export type Levels = z.infer<typeof levelsSchema>;

/** The name of a group must not look like a slot in a list of levels. */
const groupName = name
  .refine((text) => !/^\d/.test(text), 'The name of a group begins with a letter.')
  .refine(
    (text) => !/[,@=]|\b(?:at|full|half|off|out)\b/i.test(text),
    'The name of a group has no comma, @ or =, and no at, full, half, off or out in it.',
  );

export const groupSchema = z.object({
  id,
  name: groupName,
  slots: z
    .array(slots)
    .min(1, 'Write the slots of the group, like 1-12, 20.')
    .max(64, 'At most 64 ranges of slots.'),
});
export type Group = z.infer<typeof groupSchema>;

export const lookSchema = z.object({ id, name, levels: levelsSchema });
export type Look = z.infer<typeof lookSchema>;
