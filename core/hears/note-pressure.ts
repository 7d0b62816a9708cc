/** Pressure on a note that is held. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { SEVEN_BITS, plainMidi } from './midi.js';
import { channels, numbers, values } from './parts.js';

const schema = z.object({ message: z.literal('notePressure'), lineId, channels, numbers, values });

export const notePressure: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Note pressure',
    typed: 'note pressure',
    wanted: 'pressure on a note',
    kinds: ['polyPressure'],
    number: 'Note',
    value: SEVEN_BITS,
    holds: false,
    layout: 'note',
    place: 'notePressure',
    title: (notes) => `Pressure on note ${notes}`,
    any: 'Pressure on any note',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'notePressure',
    lineId: line,
    channels: on,
    numbers: of,
    values: 'any',
  }),
};
