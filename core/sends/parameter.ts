/** A registered or own parameter, chosen by two controllers and set by two more (MIDI 1.0, RPN and NRPN). */
import { z } from 'zod';
import { parameterPlace } from '../place.js';
import { channel, whole } from '../show/fields.js';
import { channelDetail, equals, numberColumn } from './channel-words.js';
import { controller, double } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('parameter'),
  ...SENT,
  channel,
  registered: z.boolean(),
  number: whole(0, 16_383, 'A parameter is a number from 0 to 16383.'),
});
type Parameter = z.infer<typeof schema>;

const title = (send: Parameter): string => `${send.registered ? 'RPN' : 'NRPN'} ${send.number}`;

export const parameter: SendKindOf<typeof schema> = {
  schema,
  words: 'Parameter (RPN, NRPN)',
  protocol: 'midi',
  out: [0, 16_383],
  holds: false,
  start: (from) => ({ kind: 'parameter', ...from, registered: false }),
  // MIDI 1.0, "Registered and Non-Registered Parameter Numbers": 101/100 or 99/98 choose, 6/38 set (from memory).
  compile({ channel: on, registered, number }) {
    const [high, low] = registered ? [101, 100] : [99, 98];
    return double(controller(on, 6), controller(on, 38), [
      controller(on, high!, number >> 7),
      controller(on, low!, number & 0x7f),
    ]);
  },
  title,
  detail: channelDetail,
  said: equals(title),
  leaves: (send) => [parameterPlace(send.channel, send.registered, send.number)],
  column: numberColumn(),
};
