/** Keys one after another, or several together, with pauses: typed when the shaped value is above 0. */
import { z } from 'zod';
import { duration, keyCode } from '../show/fields.js';
import { writeTyping } from '../typed/typing.js';
import { plain } from './compiled.js';
import { keysDown, keysUp } from './keys.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('typing'),
  ...SENT,
  steps: z
    .array(
      z.object({
        codes: z.array(keyCode).min(1).max(5, 'At most five keys together.'),
        /** Pause in ms before the next one. */
        pauseMs: duration(60_000, 'A pause is a time from 0 to 60 000 ms.'),
      }),
    )
    .min(1, 'Write the keys, like Left Ctrl+S, 200 ms, Enter.')
    .max(32, 'At most 32 keys.'),
});

export const typing: SendKindOf<typeof schema> = {
  schema,
  words: 'Keys, one after another',
  protocol: 'keys',
  out: [0, 1],
  holds: false,
  start: ({ lineId, delayMs }) => ({
    kind: 'typing',
    lineId,
    delayMs,
    steps: [{ codes: ['KeyA'], pauseMs: 100 }],
  }),
  compile({ steps }) {
    const taps = steps.map(({ codes }) => [...keysDown(codes), ...keysUp(codes)]);
    let afterMs = 0;
    const later = steps.slice(1).map((_, at) => {
      afterMs += steps[at]!.pauseMs;
      return { afterMs, signals: taps[at + 1]! };
    });
    return { ...plain(taps[0]!, (value) => value > 0), later };
  },
  title: ({ steps }) => `types ${writeTyping(steps)}`,
  detail: () => 'one after another',
};
