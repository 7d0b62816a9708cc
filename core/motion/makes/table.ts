/** A table: measurements or other numbers in a row, one after another. Where one is missing it is passed over, or the one before it is held. */
import { z } from 'zod';
import { rollAt } from '../../dice.js';
import { finite, scale, whole } from '../../show/fields.js';
import { line as text } from '../../show/text.js';
import type { MakeOf } from '../make.js';
import { cycleRun } from '../run.js';

export const MOST_VALUES = 20_000;
const STRIDE = 'It goes on by 1/16 to 16 values, or backward by -1/16 to -16.';

const schema = z.object({
  kind: z.literal('table'),
  /** What the column is called. */
  name: text(60, 'A name has at most 60 characters.').default(''),
  /** Null where a value is missing. */
  values: z.array(finite.nullable()).max(MOST_VALUES, `A table has at most ${MOST_VALUES} values.`),
  order: z.enum(['next', 'random', 'toAndFro']).default('next'),
  /** How far one step goes: 2 is every second value, 0.5 each value twice, -1 backward. */
  stride: z
    .number(STRIDE)
    .refine((stride) => Math.abs(stride) >= 1 / 16 && Math.abs(stride) <= 16, STRIDE)
    .default(1),
  missing: z.enum(['passed', 'held']).default('passed'),
  /** What becomes 0 and 1; null for the smallest and the largest value. */
  limits: scale
    .refine(([low, high]) => low < high, 'Write the lower limit first, like -10 to 30.')
    .nullable()
    .default(null),
  seed: whole(0, 999_999, 'A seed is a whole number from 0 to 999 999.').default(1),
});
export type Table = z.infer<typeof schema>;

/** What was computed of each table, since every voice asks for it. */
const known = new WeakMap<Table, number[]>();

/** The values 0–1, in their order. */
export function valuesOf(table: Table): number[] {
  const before = known.get(table);
  if (before) return before;
  const made = scaledValues(table);
  known.set(table, made);
  return made;
}

function scaledValues({ values, missing, limits }: Table): number[] {
  const there = values.filter((value) => value !== null);
  // Spread into arguments, a long table would be too many.
  const low = limits ? limits[0] : there.reduce((least, value) => Math.min(least, value), Infinity);
  const high = limits ? limits[1] : there.reduce((most, value) => Math.max(most, value), -Infinity);
  const scaled = (value: number): number =>
    high === low ? 0.5 : Math.max(0, Math.min(1, (value - low) / (high - low)));
  if (missing === 'passed') return there.map(scaled);
  let last = there[0] ?? 0;
  return there.length === 0 ? [] : values.map((value) => scaled((last = value ?? last)));
}

/** Which value is at a place. */
export function indexAt(
  { order, seed }: Pick<Table, 'order' | 'seed'>,
  count: number,
  place: number,
): number {
  const step = Math.floor(place);
  const around = (length: number): number => ((step % length) + length) % length;
  if (order === 'random') return Math.floor(rollAt(seed, step) * count);
  if (order === 'next' || count === 1) return around(count);
  const there = around(2 * count - 2);
  return there < count ? there : 2 * count - 2 - there;
}

export const table: MakeOf<typeof schema> = {
  schema,
  words: 'Table',
  about: 'Numbers from a file, one after another.',
  cycles: true,
  cycle: 'step',
  waits: false,
  start: () => ({ kind: 'table', values: [] }),
  run(make, stage) {
    const values = valuesOf(make);
    const { order, stride } = make;
    // Stepped by hand it goes by its stride; in time the stride makes it faster or slower.
    const stepped = stage.drive.by === 'steps';
    const by = stepped ? 1 : stride;
    return cycleRun(stage, {
      valueAt: (place) =>
        values.length === 0
          ? null
          : values[indexAt({ order, seed: make.seed ^ stage.seed }, values.length, place * by)]!,
      next: (place) => (Math.floor(place * Math.abs(by)) + 1) / Math.abs(by),
      moves: () => false,
      ...(!stepped && { strike: (place: number) => Math.floor(place * by) }),
      stride,
    });
  },
  title: ({ name, values }) =>
    `${name === '' ? 'table' : name}, ${values.length} ${values.length === 1 ? 'value' : 'values'}`,
};
