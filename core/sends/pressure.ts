/** Channel pressure: the shaped value is the pressure, 0–127 (MIDI 1.0, "Channel Pressure (Aftertouch)"). */
import { z } from 'zod';
import { wholeChannelPlace } from '../place.js';
import { channel } from '../show/fields.js';
import type { ChannelSignal } from '../signal.js';
import { channelDetail, equals } from './channel-words.js';
import { rounded, single } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const title = (): string => 'channel pressure';

const schema = z.object({ kind: z.literal('pressure'), ...SENT, channel });

export const pressure: SendKindOf<typeof schema> = {
  schema,
  words: 'Channel pressure',
  protocol: 'midi',
  out: [0, 127],
  holds: false,
  start: ({ lineId, delayMs, delayBeats, channel: on }) => ({
    kind: 'pressure',
    lineId,
    delayMs,
    delayBeats,
    channel: on,
  }),
  compile: (send) =>
    single<ChannelSignal>(
      { kind: 'channelPressure', channel: send.channel, number: 0, value: 0 },
      (signal, value) => (signal.value = rounded(value, 127)),
    ),
  title,
  detail: channelDetail,
  said: equals(title),
  typed: (send, value) => `pressure ${value} ch ${send.channel + 1}`,
  leaves: (send) => [wholeChannelPlace('pressure', send.channel)],
};
