/** A control change. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { SEVEN_BITS, plainMidi } from './midi.js';
import { channels, numbers, values } from './parts.js';

const schema = z.object({ message: z.literal('control'), lineId, channels, numbers, values });

export const control: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Control change',
    typed: 'cc',
    wanted: 'a control change',
    kinds: ['controlChange'],
    number: 'Controller',
    value: SEVEN_BITS,
    holds: false,
    layout: 'control',
    place: 'control',
    title: (numbers_) => `CC ${numbers_} moves`,
    any: 'Any controller moves',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'control',
    lineId: line,
    channels: on,
    numbers: of,
    values: 'any',
  }),
};
