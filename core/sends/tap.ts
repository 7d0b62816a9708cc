/** A beat of the tempo that is tapped. */
import { z } from 'zod';
import { acting } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({ kind: z.literal('tap'), ...SENT });

export const tap: SendKindOf<typeof schema> = {
  schema,
  words: 'Tap the tempo',
  protocol: null,
  out: [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({ kind: 'tap', lineId: null, delayMs, delayBeats }),
  compile: () => acting({ do: 'tap' }),
  title: () => 'tempo tap',
  detail: () => 'this show',
  done: (_send, _value, _names, { bpm }) => (bpm === null ? 'tapped' : `tapped: ${bpm.toFixed(1)}`),
  typed: () => 'tap',
};
