/** Two controllers for fourteen bits: the high seven on `number`, 0–31, the low seven on the one 32 above (MIDI 1.0). */
import { z } from 'zod';
import { channelPlace } from '../place.js';
import { channel, whole } from '../show/fields.js';
import { channelDetail, equals, numberColumn } from './channel-words.js';
import { controller, double } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('control14'),
  ...SENT,
  channel,
  number: whole(0, 31, 'A 14-bit controller is a number from 0 to 31.'),
});
type Control14 = z.infer<typeof schema>;

const title = (send: Control14): string => `CC ${send.number}, 14-bit`;
const placeOf = (send: Control14): string => channelPlace('control14', send.channel, send.number);

export const control14: SendKindOf<typeof schema> = {
  schema,
  words: 'Control change, 14-bit',
  protocol: 'midi',
  out: [0, 16_383],
  holds: false,
  ramps: true,
  start: ({ number, ...from }) => ({ kind: 'control14', ...from, number: Math.min(31, number) }),
  compile: (send) =>
    double(controller(send.channel, send.number), controller(send.channel, send.number + 32)),
  title,
  detail: channelDetail,
  said: equals(title),
  place: placeOf,
  leaves: (send) => [placeOf(send)],
  column: numberColumn(),
};
