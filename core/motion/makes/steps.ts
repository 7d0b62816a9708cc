/** Steps: a row of values, one after another. Each has its length, and may be tied to the one before it, or only come by chance. */
import { z } from 'zod';
import { rollAt } from '../../dice.js';
import type { MakeOf } from '../make.js';
import { cycleRun } from '../run.js';

const VALUE = 'A step is 0 to 100 %.';
const LENGTH = 'A step is 1/4 to 16 times as long as the rate says.';
const CHANCE = 'A chance is 0 to 100 %.';
export const MOST_STEPS = 64;

const stepSchema = z.object({
  value: z.number(VALUE).min(0, VALUE).max(1, VALUE),
  /** In steps of the rate. */
  length: z.number(LENGTH).min(0.25, LENGTH).max(16, LENGTH).default(1),
  /** True if a note goes on from the step before, and is not pressed again. */
  tie: z.boolean().default(false),
  /** 0–1. A step that does not come leaves the value of the one before it. */
  chance: z.number(CHANCE).min(0, CHANCE).max(1, CHANCE).default(1),
});
export type Step = z.infer<typeof stepSchema>;

const schema = z.object({
  kind: z.literal('steps'),
  steps: z
    .array(stepSchema)
    .min(1, 'Write at least one step.')
    .max(MOST_STEPS, `At most ${MOST_STEPS} steps.`),
});

export const steps: MakeOf<typeof schema> = {
  schema,
  words: 'Steps',
  about: 'A row of values, one after another.',
  cycles: true,
  cycle: 'step',
  waits: false,
  start: () => ({ kind: 'steps', steps: [0, 0.5, 1, 0.5].map((value) => ({ value })) }),
  run({ steps: row }, stage) {
    const stepped = stage.drive.by === 'steps';
    /** Where each step begins. Steps that are stepped through are all as long. */
    const begins = row.map((_, at) =>
      row.slice(0, at).reduce((sum, { length }) => sum + (stepped ? 1 : length), 0),
    );
    const whole = stepped ? row.length : row.reduce((sum, { length }) => sum + length, 0);
    /** The number of the step at a place, counted on over the rounds. */
    const indexAt = (place: number): number => {
      const round = Math.floor(place / whole);
      const within = place - round * whole;
      return (
        round * row.length +
        Math.max(
          0,
          begins.findLastIndex((begin) => begin <= within),
        )
      );
    };
    const stepOf = (index: number): Step => row[((index % row.length) + row.length) % row.length]!;
    const comes = (index: number): boolean => {
      const { chance } = stepOf(index);
      return chance >= 1 || rollAt(stage.seed, index) < chance;
    };
    /** The step whose value is there: this one, or the last before it that came. */
    const there = (place: number, wants: (index: number) => boolean): number => {
      const index = indexAt(place);
      for (let back = 0; back < row.length; back++) if (wants(index - back)) return index - back;
      return index;
    };
    return cycleRun(stage, {
      valueAt: (place) => stepOf(there(place, comes)).value,
      next(place) {
        const round = Math.floor(place / whole) * whole;
        const begin = begins.find((one) => round + one > place);
        return round + (begin ?? whole);
      },
      moves: () => false,
      strike: (place) => there(place, (index) => comes(index) && !stepOf(index).tie),
    });
  },
  title: ({ steps: row }) => `${row.length} ${row.length === 1 ? 'step' : 'steps'}`,
};
