/** A note that is pressed. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { FORCE, plainMidi } from './midi.js';
import { channels, numbers, values } from './parts.js';

const schema = z.object({ message: z.literal('pressed'), lineId, channels, numbers, values });

export const pressed: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Note pressed',
    typed: 'note',
    wanted: 'a press',
    kinds: ['noteOn'],
    number: 'Note',
    value: FORCE,
    holds: false,
    neverLetGo: { instead: 'held' },
    layout: 'note',
    place: 'note',
    title: (notes) => `Note ${notes} pressed`,
    any: 'Any note pressed',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'pressed',
    lineId: line,
    channels: on,
    numbers: of,
    values: 'any',
  }),
};
