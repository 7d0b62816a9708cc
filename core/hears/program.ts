/** A program change: its number is what is worked with. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { plainMidi } from './midi.js';
import { channels, numbers } from './parts.js';

const schema = z.object({ message: z.literal('program'), lineId, channels, numbers });

export const program: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Program change',
    typed: 'program',
    wanted: 'a program change',
    kinds: ['programChange'],
    number: 'Program',
    value: null,
    holds: false,
    neverLetGo: { instead: null },
    place: 'program',
    title: (programs) => `Program ${programs}`,
    any: 'Any program',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'program',
    lineId: line,
    channels: on,
    numbers: of,
  }),
};
