/** A key that is held: 1 when it goes down, and what the lowest value would send when it comes up. */
import { z } from 'zod';
import { keyCode, lineId } from '../show/fields.js';
import { keyHear } from './keys.js';
import type { HearKindOf } from './kind.js';

const schema = z.object({ message: z.literal('keyHeld'), lineId, code: keyCode });

export const keyHeld: HearKindOf<typeof schema> = {
  schema,
  ...keyHear<z.infer<typeof schema>>('a key', 'held'),
  words: 'Key held',
  start: (from) => ({ message: 'keyHeld', lineId: from.lineId, code: from.code }),
};
