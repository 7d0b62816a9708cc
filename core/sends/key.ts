/** A key: down while the shaped value is above 0; pressed and let go at once where no release is heard. */
import { z } from 'zod';
import { keyPlace } from '../place.js';
import { beats, keyCode, whole } from '../show/fields.js';
import { isNone } from '../time/span.js';
import { spanWords } from '../typed/span.js';
import { readKey, writeChord } from '../typed/typing.js';
import { plain } from './compiled.js';
import { keysDown, keysUp, tapMs } from './keys.js';
import { SENT, type SendKindOf } from './kind.js';

const REPEAT = 'A repeat is every 20 to 60 000 ms, or 0 for none.';

const schema = z.object({
  kind: z.literal('key'),
  ...SENT,
  code: keyCode,
  /** Keys that go down before it and up after it, for a chord. */
  with: z.array(keyCode).max(4, 'At most four more keys.').default([]),
  /** True if it is released at once, however long the control is held. */
  tap: z.boolean().default(false),
  tapMs,
  /** Interval in ms at which it repeats while it is down; 0 for no repeats. */
  repeatMs: z.union([z.literal(0), whole(20, 60_000, REPEAT)], { message: REPEAT }).default(0),
  repeatBeats: beats,
});

export const key: SendKindOf<typeof schema> = {
  schema,
  words: 'Key',
  protocol: 'keys',
  out: [0, 1],
  holds: true,
  start: ({ lineId, delayMs, delayBeats }) => ({ kind: 'key', lineId, delayMs, delayBeats, code: 'KeyA' }),
  compile(send) {
    const chord = [...send.with, send.code];
    return {
      ...plain(keysDown(chord), () => true),
      releases: keysUp(chord),
      fill: (value) => (value > 0 ? 'signals' : 'releases'),
    };
  },
  title: (send) => `key ${writeChord([...send.with, send.code])}`,
  detail(send) {
    if (send.tap) return 'tapped';
    const every = { ms: send.repeatMs, beats: send.repeatBeats };
    return isNone(every) ? 'typed' : `repeats every ${spanWords(every)} while held`;
  },
  typed: (send) => `key ${send.code}`,
  place: (send) => keyPlace(send.code),
  column: {
    write: (send) => send.code,
    read(text) {
      const read = readKey(text);
      return read.ok ? { ok: true, value: { code: read.value } } : read;
    },
  },
};
