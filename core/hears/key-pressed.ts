/** A key that goes down. */
import { z } from 'zod';
import { keyCode, lineId } from '../show/fields.js';
import { keyHear } from './keys.js';
import type { HearKindOf } from './kind.js';

const schema = z.object({ message: z.literal('keyPressed'), lineId, code: keyCode });

export const keyPressed: HearKindOf<typeof schema> = {
  schema,
  ...keyHear<z.infer<typeof schema>>('a key going down', 'pressed'),
  words: 'Key pressed',
  typed: 'key',
  start: (from) => ({ message: 'keyPressed', lineId: from.lineId, code: from.code }),
};
