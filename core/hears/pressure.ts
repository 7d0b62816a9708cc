/** Pressure on a whole channel. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { plainMidi, SEVEN_BITS } from './midi.js';
import { channels, values } from './parts.js';

const schema = z.object({ message: z.literal('pressure'), lineId, channels, values });

export const pressure: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Channel pressure',
    typed: 'pressure',
    wanted: 'channel pressure',
    kinds: ['channelPressure'],
    number: null,
    value: SEVEN_BITS,
    holds: false,
    place: 'pressure',
    title: () => 'Pressure',
    any: 'Pressure',
  }),
  start: (from) => ({ message: 'pressure', lineId: from.lineId, channels: from.channels, values: 'any' }),
};
