/** A note that is held: the press sends, and the release sends what the lowest value would. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { FORCE, plainMidi } from './midi.js';
import { channels, numbers, values } from './parts.js';

const schema = z.object({ message: z.literal('held'), lineId, channels, numbers, values });

export const held: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Note held',
    typed: 'note held',
    wanted: 'a press or a release',
    kinds: ['noteOn', 'noteOff'],
    number: 'Note',
    value: FORCE,
    holds: true,
    layout: 'note',
    place: 'note',
    title: (notes) => `Note ${notes} held`,
    any: 'Any note held',
  }),
  start: ({ lineId: line, channels: on, numbers: of }) => ({
    message: 'held',
    lineId: line,
    channels: on,
    numbers: of,
    values: 'any',
  }),
};
