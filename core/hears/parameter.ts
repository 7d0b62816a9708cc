/** A registered parameter, or a maker's own, set by four controllers (MIDI 1.0, RPN and NRPN). */
import { z } from 'zod';
import { parameterPlace } from '../place.js';
import { lineId, whole } from '../show/fields.js';
import { readWhole } from '../typed/range.js';
import type { HearKindOf } from './kind.js';
import { FOURTEEN_BITS, midiDetail } from './midi.js';
import { another, channelMiss } from './miss.js';
import { channels, channelsOf, values } from './parts.js';
import { readChannel } from './read.js';

const schema = z.object({
  message: z.literal('parameter'),
  lineId,
  channels,
  registered: z.boolean(),
  parameter: whole(0, 16_383, 'A parameter is a number from 0 to 16383.'),
  values,
});

const INFO = { number: null, value: FOURTEEN_BITS } as const;
const WANTED = 'a parameter (RPN or NRPN)';
/** Data entry, up and down by one, and the choice of a parameter (MIDI 1.0, from memory). */
const CONTROLLERS = [6, 38, 96, 97, 98, 99, 100, 101];

export const parameter: HearKindOf<typeof schema> = {
  schema,
  ...INFO,
  words: 'Parameter (RPN, NRPN)',
  wanted: WANTED,
  protocol: 'midi',
  holds: false,
  start: (from) => ({
    message: 'parameter',
    lineId: from.lineId,
    channels: from.channels,
    registered: false,
    parameter: 0,
    values: 'any',
  }),
  title: (hear) => `${hear.registered ? 'RPN' : 'NRPN'} ${hear.parameter} moves`,
  detail: (hear, middleC) => midiDetail(hear, INFO, middleC),
  controls: (hear) =>
    channelsOf(hear).map((channel) => parameterPlace(channel, hear.registered, hear.parameter)),
  spot: (hear) => ({ in: 'parameters', registered: hear.registered, parameter: hear.parameter }),
  reader: (hear) => readChannel(hear),
  /** A signal is only one of the controllers that form the value. Only the engine knows whether the others arrived too. */
  misses(hear, signal) {
    if (signal.kind !== 'controlChange') return [another(WANTED, signal)];
    const onChannel = channelMiss(hear, signal.channel);
    return CONTROLLERS.includes(signal.number) ? onChannel : [another(WANTED, signal), ...onChannel];
  },
  column: {
    write: (hear) => String(hear.parameter),
    read(text) {
      const read = readWhole(text, 'A parameter', 0, 16_383);
      return read.ok ? { ok: true, value: { parameter: read.value } } : read;
    },
  },
};
