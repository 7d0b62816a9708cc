/** What the calls that edit a show take. The rows themselves are checked whole, by core's schemas, in rows.ts. */
import { z } from 'zod';
import { answerSchema } from '@tawny-signal/core/show/answer';
import { BANK_ACTS } from '@tawny-signal/core/show/bank';
import { hearSchema } from '@tawny-signal/core/hears';
import { mappingSchema } from '@tawny-signal/core/show/mapping';
import { shapeSchema } from '@tawny-signal/core/show/shape';
import { whenSchema } from '@tawny-signal/core/show/when';

export const newLayoutSchema = z.looseObject({ name: z.string() });
export const layoutChangeSchema = z.looseObject({ name: z.string().optional() });
const sendsSchema = mappingSchema.shape.sends;
const rowId = z.string().min(1).max(64);

export const newMomentSchema = z.looseObject({ after: rowId.nullable().optional() });
export const momentChangeSchema = z.looseObject({ name: z.string().optional() });
/** A group, a look or a MIDI file: core's schema of it says what may be in it. */
export const newNamedSchema = z.looseObject({ name: z.string() });
export const namedChangeSchema = z.looseObject({ name: z.string().optional() });
/** Rows that were cut or copied, to be put behind another; undone as one. */
export const pasteSchema = z.strictObject({
  after: rowId.nullable().optional(),
  moments: z
    .array(z.looseObject({ name: z.string() }))
    .min(1)
    .max(200, 'At most 200 moments at once.'),
});
export const newLineSchema = z.looseObject({ kind: z.string(), name: z.string() });
export const lineChangeSchema = z.looseObject({
  name: z.string().optional(),
  muted: z.boolean().optional(),
});
export const newBankSchema = z.strictObject({ name: z.string() });
/** `act` switches it, and with it the others of its group or, with `only`, all others. */
export const bankChangeSchema = z
  .strictObject({ name: z.string(), group: z.string(), on: z.boolean(), act: z.enum(BANK_ACTS) })
  .partial();
/** What is left out is filled in, so that the mapping works with the least said. `after`: the row it comes behind. */
export const newMappingSchema = z.strictObject({
  after: rowId.nullable().optional(),
  name: z.string().optional(),
  hear: hearSchema.optional(),
  shape: shapeSchema.optional(),
  when: whenSchema.optional(),
  sends: sendsSchema.optional(),
  answer: answerSchema.nullable().optional(),
  bankId: rowId.nullable().optional(),
});
/** Many at once, as a spread makes them; undone as one. */
export const newMappingsSchema = z.strictObject({
  mappings: z
    .array(mappingSchema.omit({ id: true }))
    .min(1)
    .max(512, 'At most 512 mappings at once.'),
});
export const mappingChangeSchema = z
  .strictObject({
    name: z.string(),
    on: z.boolean(),
    bankId: rowId.nullable(),
    hear: hearSchema,
    shape: shapeSchema,
    when: whenSchema,
    sends: sendsSchema,
    answer: answerSchema.nullable(),
  })
  .partial();
/** The row that it goes behind; null to put it first. */
export const moveSchema = z.strictObject({ after: rowId.nullable() });
export const settingsChangeSchema = z
  .strictObject({
    name: z.string(),
    middleC: z.union([z.literal(3), z.literal(4), z.literal(5)]),
    tempo: z.number(),
    guardMs: z.number(),
    stopAllMs: z.number(),
    afterRestart: z.string(),
    deskKeys: z.looseObject({}),
  })
  .partial();
export const newRouteSchema = z.looseObject({ fromId: rowId.nullable(), toId: rowId.nullable() });
export const routeChangeSchema = z.looseObject({ on: z.boolean().optional() });
