/**
 * The show document: what is kept, sent and read everywhere, checked by the same schemas in the
 * browser, the server and (later) the file. A schema's messages say what may be written.
 */
import { z } from 'zod';
import { bankSchema } from './show/bank.js';
import { DESK_KEYS, deskKeysSchema } from './show/desk-keys.js';
import { duration, fileVersion, name, tempo } from './show/fields.js';
import { layoutSchema } from './show/layout.js';
import { lineSchema } from './show/line.js';
import { groupSchema, lookSchema } from './show/look.js';
import { mappingSchema } from './show/mapping.js';
import { midiFileSchema } from './show/midi-file.js';
import { momentSchema } from './show/moment.js';
import { routeSchema } from './show/route.js';

export const settingsSchema = z.object({
  name,
  /** The octave that note 60 is said to be in. */
  middleC: z.union([z.literal(3), z.literal(4), z.literal(5)]),
  /** Beats a minute. */
  tempo: tempo.default(120),
  /** Go is not heeded twice within so many ms. */
  guardMs: duration(10_000, 'A guard time is 0 to 10 000 ms.').default(300),
  /** Stop all in a time: how long the lights take to fade out. */
  stopAllMs: duration(60_000, 'All is stopped within 0 to 60 s.').default(3000),
  /** What becomes of fades that ran when the server or its machine failed: they stay where they were, or are at their ends. */
  afterRestart: z.enum(['left', 'ended']).default('left'),
  deskKeys: deskKeysSchema.default(DESK_KEYS),
});
export type Settings = z.infer<typeof settingsSchema>;

/** The rows of a show, by their table. A row that was kept before a field was added gets the field's default. */
export const ROW_SCHEMAS = {
  lines: lineSchema,
  banks: bankSchema,
  mappings: mappingSchema,
  routes: routeSchema,
  layouts: layoutSchema,
  moments: momentSchema,
  groups: groupSchema,
  looks: lookSchema,
  midiFiles: midiFileSchema,
};

export const showSchema = z.object({
  format: z.literal('tawny-signal-show'),
  version: fileVersion,
  settings: settingsSchema,
  lines: z.array(lineSchema),
  banks: z.array(bankSchema),
  mappings: z.array(mappingSchema),
  routes: z.array(routeSchema).default([]),
  layouts: z.array(layoutSchema).default([]),
  moments: z.array(momentSchema).default([]),
  groups: z.array(groupSchema).default([]),
  looks: z.array(lookSchema).default([]),
  midiFiles: z.array(midiFileSchema).default([]),
});
export type Show = z.infer<typeof showSchema>;

const NEW_SETTINGS = settingsSchema.parse({ name: 'New show', middleC: 4 });

export const emptyShow = (showName: string): Show => ({
  format: 'tawny-signal-show',
  version: 1,
  settings: { ...NEW_SETTINGS, name: showName },
  lines: [],
  banks: [],
  mappings: [],
  routes: [],
  layouts: [],
  moments: [],
  groups: [],
  looks: [],
  midiFiles: [],
});
