/** A pitch bend: the shaped value is the bend, 0–16,383. */
import { z } from 'zod';
import { wholeChannelPlace } from '../place.js';
import { channel } from '../show/fields.js';
import type { ChannelSignal } from '../signal.js';
import { channelDetail, equals } from './channel-words.js';
import { rounded, single } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const title = (): string => 'pitch bend';

const schema = z.object({ kind: z.literal('bend'), ...SENT, channel });

export const bend: SendKindOf<typeof schema> = {
  schema,
  words: 'Pitch bend',
  protocol: 'midi',
  out: [0, 16_383],
  holds: false,
  start: ({ lineId, delayMs, delayBeats, channel: on }) => ({
    kind: 'bend',
    lineId,
    delayMs,
    delayBeats,
    channel: on,
  }),
  compile: (send) =>
    single<ChannelSignal>(
      { kind: 'pitchBend', channel: send.channel, number: 0, value: 0 },
      (signal, value) => (signal.value = rounded(value, 16_383)),
    ),
  title,
  detail: channelDetail,
  said: equals(title),
  typed: (send, value) => `bend ${value} ch ${send.channel + 1}`,
  leaves: (send) => [wholeChannelPlace('bend', send.channel)],
};
