/** Every way to make values. A new one is a file in `makes/` and a line in each of the two lists. */
import { z } from 'zod';
import type { MakeInfo } from './make.js';
import { ease } from './makes/ease.js';
import { envelope } from './makes/envelope.js';
import { hold } from './makes/hold.js';
import { random } from './makes/random.js';
import { steps } from './makes/steps.js';
import { table } from './makes/table.js';
import { wave } from './makes/wave.js';

/** In the order in which the interface lists them. */
const KINDS = { wave, envelope, steps, random, table, hold, ease } as const;

export const makeSchema = z.discriminatedUnion('kind', [
  wave.schema,
  envelope.schema,
  steps.schema,
  random.schema,
  table.schema,
  hold.schema,
  ease.schema,
]);
export type Make = z.infer<typeof makeSchema>;
export type MakeKind = Make['kind'];
export type MakeOfKind<K extends MakeKind> = Extract<Make, { kind: K }>;

/** Call its functions only with makes of that kind. */
export const MAKES = KINDS as unknown as Readonly<
  Record<MakeKind, MakeInfo<z.input<typeof makeSchema>, Make>>
>;
export const MAKE_KINDS = Object.keys(KINDS) as MakeKind[];

/** A new one, with the defaults for all that is not given. @throws ZodError */
export const startMake = (kind: MakeKind): Make => makeSchema.parse(MAKES[kind].start());
