/** A control change: the shaped value is its value, 0–127. */
import { z } from 'zod';
import { channelPlace, placeOn } from '../place.js';
import { channel, number } from '../show/fields.js';
import { channelDetail, equals, numberColumn } from './channel-words.js';
import { controller, nowhere, rounded, single } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('control'),
  ...SENT,
  channel,
  number,
  /** As of a note. */
  follows: z.boolean().default(false),
});
type Control = z.infer<typeof schema>;

const title = (send: Control): string => `CC ${send.number}${send.follows ? ' and up' : ''}`;
const placeOf = (send: Control): string => channelPlace('control', send.channel, send.number);

export const control: SendKindOf<typeof schema> = {
  schema,
  words: 'Control change',
  protocol: 'midi',
  out: [0, 127],
  holds: false,
  ramps: true,
  start: (from) => ({ kind: 'control', ...from }),
  compile(send, { step }) {
    const place = placeOn(send.channel, send.number, send.follows ? step : 0);
    if (!place) return nowhere();
    return single(
      controller(place.channel, place.number),
      (signal, value) => (signal.value = rounded(value, 127)),
    );
  },
  title,
  detail: channelDetail,
  said: equals(title),
  typed: (send, value) => `cc ${send.number} ch ${send.channel + 1} = ${value}`,
  place: placeOf,
  movedOn(send, step) {
    const place = placeOn(send.channel, send.number, step);
    return place && { ...send, ...place, follows: false };
  },
  leaves: (send) => [placeOf(send)],
  column: numberColumn(),
};
