/** A note that is let go. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { FORCE, plainMidi } from './midi.js';
import { channels, numbers, values } from './parts.js';

const schema = z.object({ message: z.literal('released'), lineId, channels, numbers, values });

export const released: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Note released',
    typed: 'note released',
    wanted: 'a release',
    kinds: ['noteOff'],
    number: 'Note',
    value: FORCE,
    holds: false,
    neverLetGo: { instead: null },
    layout: 'note',
    place: 'note',
    title: (notes) => `Note ${notes} released`,
    any: 'Any note released',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'released',
    lineId: line,
    channels: on,
    numbers: of,
    values: 'any',
  }),
};
