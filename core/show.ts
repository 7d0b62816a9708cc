/**
 * The show document: what is kept, sent and read everywhere, checked by the same schemas in the
 * browser, the server and (later) the file. A schema's messages say what may be written.
 */
import { z } from 'zod';
import { bankSchema } from './show/bank.js';
import { duration, fileVersion, name, tempo } from './show/fields.js';
import { layoutSchema } from './show/layout.js';
import { lineSchema } from './show/line.js';
import { mappingSchema } from './show/mapping.js';
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
});
export type Show = z.infer<typeof showSchema>;

export const emptyShow = (showName: string): Show => ({
  format: 'tawny-signal-show',
  version: 1,
  settings: { name: showName, middleC: 4, tempo: 120, guardMs: 300 },
  lines: [],
  banks: [],
  mappings: [],
  routes: [],
  layouts: [],
  moments: [],
});
