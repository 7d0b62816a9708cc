/** Mappings: hear a message on one line, shape its value, and send it on other lines. */
import { z } from 'zod';
import { answerSchema } from './answer.js';
import { id, nameOrNone } from './fields.js';
import { hearSchema } from '../hears.js';
import { neverLetGo, neverLetGoWords } from '../mapping/lets-go.js';
import { MOST_SENDS, sendSchema } from '../sends.js';
import { shapeSchema } from './shape.js';
import { ALWAYS, whenSchema } from './when.js';

/** Without the rules that concern several members. */
export const mappingFields = z.object({
  id,
  /** If empty, the mapping is named after what it hears. */
  name: nameOrNone,
  on: z.boolean(),
  bankId: id.nullable(),
  hear: hearSchema,
  when: whenSchema.default(ALWAYS),
  shape: shapeSchema,
  /** All of them are sent for each message that is heard. A mapping that was just learned has none yet. */
  sends: z.array(sendSchema).max(MOST_SENDS, 'A mapping sends at most 8 things.'),
  /** Feedback to its control: a lamp, or the position of a motor fader. */
  answer: answerSchema.nullable().default(null),
});

export const mappingSchema = mappingFields.superRefine(({ hear, sends }, context) => {
  const at = neverLetGo(hear, sends);
  if (at >= 0)
    context.addIssue({ code: 'custom', path: ['sends', at, 'act'], message: neverLetGoWords(hear) });
});
export type Mapping = z.infer<typeof mappingSchema>;
