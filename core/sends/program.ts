/** A program change: the shaped value is the program, 0–127. */
import { z } from 'zod';
import { wholeChannelPlace } from '../place.js';
import { channel } from '../show/fields.js';
import type { ChannelSignal } from '../signal.js';
import { channelDetail, equals } from './channel-words.js';
import { rounded, single } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const title = (): string => 'program';

const schema = z.object({ kind: z.literal('program'), ...SENT, channel });

export const program: SendKindOf<typeof schema> = {
  schema,
  words: 'Program change',
  protocol: 'midi',
  out: [0, 127],
  holds: false,
  start: ({ lineId, delayMs, delayBeats, channel: on }) => ({
    kind: 'program',
    lineId,
    delayMs,
    delayBeats,
    channel: on,
  }),
  compile: (send) =>
    single<ChannelSignal>(
      { kind: 'programChange', channel: send.channel, number: 0, value: 0 },
      (signal, value) => (signal.number = rounded(value, 127)),
    ),
  title,
  detail: channelDetail,
  said: equals(title),
  typed: (send, value) => `program ${value} ch ${send.channel + 1}`,
  leaves: (send) => [wholeChannelPlace('program', send.channel)],
};
