/**
 * What the calls that edit a show take: the members of core's schemas. The rows themselves are checked whole, by those schemas, in rows.ts. A field
 * that is in neither is refused (http/known-fields.pipe).
 */
import { z } from 'zod';
import { BANK_ACTS, bankSchema } from '@tawny-signal/core/show/bank';
import { settingsSchema } from '@tawny-signal/core/show';
import { ROW_SCHEMAS } from '@tawny-signal/core/show/row-schemas';
import { mappingFields } from '@tawny-signal/core/show/mapping';
import { momentSchema } from '@tawny-signal/core/show/moment';

type Members<Shape extends z.ZodRawShape> = {
  [K in keyof Shape]: z.ZodOptional<Shape[K] extends z.ZodDefault<infer Inner> ? Inner : Shape[K]>;
};

/**
 * The members of a schema, each of which may be left out. Nothing is filled in for one that is: a change leaves the other members of a row as
 * they are.
 */
function membersOf<Shape extends z.ZodRawShape>({ shape }: z.ZodObject<Shape>): z.ZodObject<Members<Shape>> {
  const members = Object.entries<z.ZodType>(shape as never).map(([key, field]) => [
    key,
    z.optional(field instanceof z.ZodDefault ? (field.unwrap() as z.ZodType) : field),
  ]);
  return z.object(Object.fromEntries(members) as Members<Shape>);
}

const rowId = z.string().min(1).max(64);
/** The row that a new one comes behind; null to put it first. At the end if it is left out. */
const after = rowId.nullable().optional();

/** Tables whose rows are only added, changed and removed. */
export const PLAIN_TABLES = ['layouts', 'groups', 'looks', 'midiFiles', 'tempoMarks', 'motions'] as const;
export type PlainTable = (typeof PLAIN_TABLES)[number];

export const plainChangeSchema = (table: PlainTable) =>
  membersOf(ROW_SCHEMAS[table] as z.ZodType as z.ZodObject<{ id: z.ZodString; name: z.ZodString }>).omit({
    id: true,
  });
export const newPlainSchema = (table: PlainTable) => plainChangeSchema(table).required({ name: true });

export const momentChangeSchema = membersOf(momentSchema.omit({ id: true }));
export const newMomentSchema = momentChangeSchema.extend({ after });
/** Rows that were cut or copied, to be put behind another; undone as one. */
export const pasteSchema = z.object({
  after,
  moments: z
    .array(membersOf(momentSchema).required({ name: true }))
    .min(1)
    .max(200, 'At most 200 moments at once.'),
});

/** Timecodes of moments, set together; null for none. */
export const timesSchema = z.object({
  times: z
    .array(z.object({ id: rowId, timecode: momentSchema.shape.timecode.unwrap() }))
    .min(1)
    .max(2000, 'At most 2000 moments at once.'),
});

/** What a line has depends on its kind: core's schema of that kind says it. */
export const newLineSchema = z.looseObject({ kind: z.string(), name: z.string() });
export const lineChangeSchema = z.looseObject({
  name: z.string().optional(),
  muted: z.boolean().optional(),
});

export const newBankSchema = bankSchema.pick({ name: true });
/** `act` switches it, and with it the others of its group or, with `only`, all others. */
export const bankChangeSchema = membersOf(bankSchema.omit({ id: true })).extend({
  act: z.enum(BANK_ACTS).optional(),
});

export const mappingChangeSchema = membersOf(mappingFields.omit({ id: true }));
/** What is left out is filled in, so that the mapping works with the least said. */
export const newMappingSchema = mappingChangeSchema.omit({ on: true }).extend({ after });
/** Many at once, as a spread makes them; undone as one. */
export const newMappingsSchema = z.object({
  mappings: z
    .array(mappingFields.omit({ id: true }))
    .min(1)
    .max(512, 'At most 512 mappings at once.'),
});

/** The query of a call that removes a row: the row that everything which uses it is to use instead. */
export const removalSchema = z.object({ moveTo: rowId.optional() });

/** The row that it goes behind; null to put it first. */
export const moveSchema = z.object({ after: rowId.nullable() });
export const settingsChangeSchema = membersOf(settingsSchema);

/** What is in a row depends on its kind: core's schema says it. */
export const newTimeRowSchema = z.looseObject({ kind: z.string(), lineId: rowId.nullable() });
export const timeRowChangeSchema = z.looseObject({ offsetMs: z.number().optional() });

/** What a route has depends on what it carries: core's schema says it. */
export const newRouteSchema = z.looseObject({ fromId: rowId.nullable(), toId: rowId.nullable() });
export const routeChangeSchema = z.looseObject({ on: z.boolean().optional() });
