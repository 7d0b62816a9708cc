/** A pitch bend, 0–16,383. */
import { z } from 'zod';
import { lineId } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { FOURTEEN_BITS, plainMidi } from './midi.js';
import { channels, values } from './parts.js';

const schema = z.object({ message: z.literal('bend'), lineId, channels, values });

export const bend: HearKindOf<typeof schema> = {
  schema,
  ...plainMidi<z.infer<typeof schema>>({
    words: 'Pitch bend',
    typed: 'bend',
    wanted: 'pitch bend',
    kinds: ['pitchBend'],
    number: null,
    value: FOURTEEN_BITS,
    holds: false,
    layout: 'bend',
    place: 'bend',
    title: () => 'Pitch bend',
    any: 'Pitch bend',
  }),
  start: (from) => ({ message: 'bend', lineId: from.lineId, channels: from.channels, values: 'any' }),
};
