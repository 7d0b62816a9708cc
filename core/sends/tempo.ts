/** The tempo of the show: the shaped value is its beats a minute. */
import { z } from 'zod';
import { FASTEST, SLOWEST } from '../time/tempo.js';
import { plain, type ShowAct } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const BEATS = 'It gets there in 0 to 64 beats.';
const schema = z.object({
  kind: z.literal('tempo'),
  ...SENT,
  /** The number of beats in which it gets there; 0 for at once. */
  beats: z.number(BEATS).min(0, BEATS).max(64, BEATS).default(0),
});

const over = ({ beats }: z.infer<typeof schema>): string =>
  beats === 0 ? 'at once' : `over ${beats} ${beats === 1 ? 'beat' : 'beats'}`;

export const tempo: SendKindOf<typeof schema> = {
  schema,
  words: 'Set the tempo',
  protocol: null,
  out: [SLOWEST, FASTEST],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({ kind: 'tempo', lineId: null, delayMs, delayBeats }),
  compile({ beats }) {
    const act: Extract<ShowAct, { do: 'tempo' }> = { do: 'tempo', bpm: 0, beats };
    return {
      ...plain([], (value) => {
        act.bpm = value;
        return value >= SLOWEST && value <= FASTEST;
      }),
      act,
    };
  },
  title: () => 'tempo',
  detail: over,
  said: (send, value) => `tempo ${Number(value.toFixed(1))} ${over(send)}`,
};
