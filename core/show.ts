/**
 * The show document: what is kept, sent and read everywhere, checked by the same schemas in the
 * browser, the server and (later) the file. A schema's messages say what may be written.
 */
import { z } from 'zod';
import { DESK_KEYS, deskKeysSchema } from './show/desk-keys.js';
import { beatsToBar, duration, FILE_VERSION, fileVersion, name, tempo } from './show/fields.js';
import { ROW_SCHEMAS } from './show/row-schemas.js';
import { TIMECODE_SETTINGS, timecodeSettingsSchema } from './show/time.js';
import { forTables, type RowOf, type TableName } from './show/tables.js';

export const settingsSchema = z.object({
  name,
  /** The octave that note 60 is said to be in. */
  middleC: z.union([z.literal(3), z.literal(4), z.literal(5)]),
  /** Beats a minute. */
  tempo: tempo.default(120),
  beatsToBar,
  /** A second Go within this many ms is ignored. */
  guardMs: duration(10_000, 'A guard time is 0 to 10 000 ms.').default(300),
  /** The time in ms in which Stop all fades out the lights. */
  stopAllMs: duration(60_000, 'All is stopped within 0 to 60 s.').default(3000),
  /** What happens to fades that were running before a restart: they stay where they were, or are set to their ends. */
  afterRestart: z.enum(['left', 'ended']).default('left'),
  /** How a locked show is unlocked: by holding the button for a second, or by a question. */
  unlock: z.enum(['hold', 'ask']).default('hold'),
  deskKeys: deskKeysSchema.default(DESK_KEYS),
  timecode: timecodeSettingsSchema.default(TIMECODE_SETTINGS),
});
export type Settings = z.infer<typeof settingsSchema>;

type Rows = { [T in TableName]: z.ZodArray<(typeof ROW_SCHEMAS)[T]> };
/** Tables that every file has had from the beginning. Files from before the others have none of their rows. */
const ALWAYS: readonly TableName[] = ['lines', 'banks', 'mappings'];

export const showSchema = z.object({
  format: z.literal('tawny-signal-show'),
  version: fileVersion,
  settings: settingsSchema,
  ...forTables<Rows>((table) => {
    const rows = z.array<z.ZodType>(ROW_SCHEMAS[table]);
    return (ALWAYS.includes(table) ? rows : rows.default([])) as Rows[TableName];
  }),
});
export type Show = z.infer<typeof showSchema>;

const NEW_SETTINGS = settingsSchema.parse({ name: 'New show', middleC: 4 });

type RowsOf = { [T in TableName]: RowOf[T][] };
export const emptyShow = (showName: string): Show => ({
  format: 'tawny-signal-show',
  version: FILE_VERSION,
  settings: { ...NEW_SETTINGS, name: showName },
  ...forTables<RowsOf>(() => []),
});
