/** The schema of each kind of row. */
import { bankSchema } from './bank.js';
import { layoutSchema } from './layout.js';
import { lineSchema } from './line.js';
import { groupSchema, lookSchema } from './look.js';
import { mappingSchema } from './mapping.js';
import { midiFileSchema } from './midi-file.js';
import { momentSchema } from './moment.js';
import { motionSchema } from './motion.js';
import { routeSchema } from './route.js';
import { tempoMarkSchema } from './tempo-mark.js';
import { timeOutputSchema, timeSourceSchema } from '../time/ways.js';

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
  timeSources: timeSourceSchema,
  timeOutputs: timeOutputSchema,
  tempoMarks: tempoMarkSchema,
  motions: motionSchema,
};
