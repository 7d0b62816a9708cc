/**
 * Of a moment of the running order, when the shaped value is above 0: `call` calls it, and the next one stands by; `run` does what it does,
 * and what stands by stays; `stop` stops it. Null: the one that stands by; to stop, all that run.
 */
import { z } from 'zod';
import { id } from '../show/fields.js';
import { momentName } from '../show/moment-name.js';
import { acting } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('call'),
  ...SENT,
  momentId: id.nullable(),
  act: z.enum(['call', 'run', 'stop']).default('call'),
});

export const call: SendKindOf<typeof schema> = {
  schema,
  words: 'Call, run or stop a moment',
  protocol: null,
  out: [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({ kind: 'call', lineId: null, delayMs, delayBeats, momentId: null }),
  compile: ({ momentId, act }) => acting({ do: 'moment', momentId, act }),
  title({ act, momentId }) {
    if (act === 'stop') return momentId === null ? 'stop all' : 'stop a moment';
    if (act === 'run') return 'run a moment';
    return momentId === null ? 'Go' : 'call a moment';
  },
  detail: () => 'this show',
  said({ momentId, act }, _, { moments }) {
    if (momentId === null) return act === 'stop' ? 'stop all' : act === 'run' ? 'run the standby' : 'Go';
    const moment = moments.find((one) => one.id === momentId);
    return `${act} ${moment ? momentName(moment) : 'a removed moment'}`;
  },
  done({ momentId, act }, _, { moments }) {
    const moment = moments.find((one) => one.id === momentId);
    if (momentId === null) return act === 'stop' ? 'stopped all' : act === 'run' ? 'ran the standby' : 'Go';
    return `${{ call: 'called', run: 'ran', stop: 'stopped' }[act]} ${moment ? momentName(moment) : 'a removed moment'}`;
  },
  typed: ({ momentId, act }, _, { moments }) =>
    momentId === null ? 'stop all' : `${act} ${moments.find((one) => one.id === momentId)?.cue}`,
};
