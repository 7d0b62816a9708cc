/** Mappings: what is heard on one line, how its value is shaped, what is sent on another. */
import { z } from 'zod';
import { answerSchema } from './answer.js';
import { id, nameOrNone } from './fields.js';
import { hearSchema } from '../hears.js';
import { MOST_SENDS, sendSchema } from '../sends.js';
import { shapeSchema } from './shape.js';
import { ALWAYS, whenSchema } from './when.js';

export const mappingSchema = z.object({
  id,
  /** Empty: it is called after what it hears. */
  name: nameOrNone,
  on: z.boolean(),
  bankId: id.nullable(),
  hear: hearSchema,
  when: whenSchema.default(ALWAYS),
  shape: shapeSchema,
  /** All of them leave for one message that is heard. */
  sends: z
    .array(sendSchema)
    .min(1, 'A mapping sends something.')
    .max(MOST_SENDS, 'A mapping sends at most 8 things.'),
  /** What its control is told: a lamp, or where a motor fader goes. */
  answer: answerSchema.nullable().default(null),
});
export type Mapping = z.infer<typeof mappingSchema>;
