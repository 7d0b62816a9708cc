/** The show's own position: play, stop, go to a timecode, or whether moments are called by timecode; when the shaped value is above 0. */
import { z } from 'zod';
import { TIMECODE_TEXT, timecodeText } from '../show/fields.js';
import { POSITION_SEND_ACTS, type PositionSendAct } from '../time/position.js';
import { acting } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('position'),
  ...SENT,
  act: z.enum(POSITION_SEND_ACTS).default('play'),
  /** Where it goes to, or plays from, in the frame rate of the show. */
  timecode: timecodeText.default(TIMECODE_TEXT),
});

const WORDS: Readonly<Record<PositionSendAct, string>> = {
  play: 'play the position',
  stop: 'stop the position',
  locate: 'go to',
  playFrom: 'play from',
  callsOn: 'calls by timecode on',
  callsOff: 'calls by timecode off',
};

const title = ({ act, timecode }: z.infer<typeof schema>): string =>
  act === 'locate' || act === 'playFrom' ? `${WORDS[act]} ${timecode}` : WORDS[act];

export const position: SendKindOf<typeof schema> = {
  schema,
  words: 'Play, stop or move the position',
  protocol: null,
  out: [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({ kind: 'position', lineId: null, delayMs, delayBeats }),
  compile: ({ act, timecode }) => acting({ do: 'position', act, timecode }),
  title,
  detail: () => 'this show',
  said: title,
};
