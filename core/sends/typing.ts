/** Keys one after another, or several together, with pauses: typed when the shaped value is above 0. */
import { z } from 'zod';
import { duration, keyCode } from '../show/fields.js';
import { writeTyping } from '../typed/typing.js';
import { plain, type TypedPart } from './compiled.js';
import { keysDown, keysUp, tapMs } from './keys.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('typing'),
  ...SENT,
  steps: z
    .array(
      z.object({
        codes: z.array(keyCode).min(1).max(5, 'At most five keys together.'),
        /** Time in ms until the next one goes down. It waits until this one has come up. */
        pauseMs: duration(60_000, 'A pause is a time from 0 to 60 000 ms.'),
      }),
    )
    .min(1, 'Write the keys, like Left Ctrl+S, 200 ms, Enter.')
    .max(32, 'At most 32 keys.'),
  tapMs,
});

export const typing: SendKindOf<typeof schema> = {
  schema,
  words: 'Keys, one after another',
  protocol: 'keys',
  out: [0, 1],
  holds: false,
  start: ({ lineId, delayMs, delayBeats }) => ({
    kind: 'typing',
    lineId,
    delayMs,
    delayBeats,
    steps: [{ codes: ['KeyA'], pauseMs: 100 }],
  }),
  compile({ steps, tapMs: staysMs }) {
    let downMs = 0;
    const later = steps.flatMap(({ codes, pauseMs }, tap): TypedPart[] => {
      const parts: TypedPart[] = [
        { afterMs: downMs, signals: keysDown(codes), tap, up: false },
        { afterMs: downMs + staysMs, signals: keysUp(codes), tap, up: true },
      ];
      downMs += Math.max(pauseMs, staysMs);
      return parts;
    });
    const [first, ...rest] = later;
    return { ...plain([...first!.signals], (value) => value > 0), later: rest };
  },
  title: ({ steps }) => `types ${writeTyping(steps)}`,
  detail: () => 'one after another',
};
