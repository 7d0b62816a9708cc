/** Panic, when the shaped value is above 0. */
import { z } from 'zod';
import { acting } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({ kind: z.literal('panic'), ...SENT });

export const panic: SendKindOf<typeof schema> = {
  schema,
  words: 'Panic',
  protocol: null,
  out: [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({ kind: 'panic', lineId: null, delayMs, delayBeats }),
  compile: () => acting({ do: 'panic' }),
  title: () => 'Panic',
  detail: () => 'this show',
  typed: () => 'panic',
};
