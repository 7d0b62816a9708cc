/** A wave: the same form again and again. At the beginning of a cycle a sine is in the middle and rises; the others are at their lowest. */
import { z } from 'zod';
import { whole } from '../../show/fields.js';
import type { MakeOf } from '../make.js';
import { cycleRun } from '../run.js';

const WIDTH = 'A width is 1 to 99 %.';
const POINT = 'A point is 0 to 100 %.';
export const MOST_POINTS = 64;

export const WAVE_FORMS = ['sine', 'triangle', 'rampUp', 'rampDown', 'square', 'drawn'] as const;
export type WaveForm = (typeof WAVE_FORMS)[number];

const schema = z.object({
  kind: z.literal('wave'),
  form: z.enum(WAVE_FORMS).default('sine'),
  /** How much of the cycle a square is high, or a triangle rises: 0–1. */
  width: z.number(WIDTH).min(0.01, WIDTH).max(0.99, WIDTH).default(0.5),
  /** For `drawn`: values at even distances over the cycle, with straight lines between them. The first follows the last. */
  points: z
    .array(z.number(POINT).min(0, POINT).max(1, POINT))
    .min(2, 'Draw at least two points.')
    .max(MOST_POINTS, `At most ${MOST_POINTS} points.`)
    .default([0, 1]),
  /** How often a cycle of the drawn form is repeated in itself. */
  turns: whole(1, 16, 'A cycle turns 1 to 16 times.').default(1),
});
export type Wave = z.infer<typeof schema>;

/** The value at a place of the cycle. @param part 0–1 */
export function waveAt(form: WaveForm, width: number, points: readonly number[], part: number): number {
  switch (form) {
    case 'sine':
      return 0.5 + Math.sin(2 * Math.PI * part) / 2;
    case 'triangle':
      return part < width ? part / width : (1 - part) / (1 - width);
    case 'rampUp':
      return part;
    case 'rampDown':
      return 1 - part;
    case 'square':
      return part < width ? 1 : 0;
    case 'drawn': {
      const place = part * points.length;
      const before = Math.floor(place);
      const here = points[before % points.length]!;
      return here + (points[(before + 1) % points.length]! - here) * (place - before);
    }
  }
}

const TITLES: Record<WaveForm, string> = {
  sine: 'sine',
  triangle: 'triangle',
  rampUp: 'ramp up',
  rampDown: 'ramp down',
  square: 'square',
  drawn: 'drawn',
};
export const WAVE_WORDS: Readonly<Record<WaveForm, string>> = TITLES;

const withinWidth = (width: number): number => Math.max(0.01, Math.min(0.99, width));

export const wave: MakeOf<typeof schema> = {
  schema,
  words: 'Wave',
  about: 'The same form again and again.',
  cycles: true,
  cycle: 'cycle',
  form: 'width',
  waits: false,
  start: () => ({ kind: 'wave' }),
  run({ form, width, points, turns }, stage) {
    const widthNow = (): number => withinWidth(stage.form() ?? width);
    const partOf = (cycles: number): number => (cycles - Math.floor(cycles)) * turns;
    return cycleRun(stage, {
      valueAt(cycles) {
        const part = partOf(cycles);
        return waveAt(form, widthNow(), points, part - Math.floor(part));
      },
      next(cycles) {
        const turn = Math.floor(cycles * turns);
        const edge = (turn + widthNow()) / turns;
        return form === 'square' && edge > cycles ? edge : (turn + 1) / turns;
      },
      moves: () => form !== 'square',
    });
  },
  title: ({ form }) => TITLES[form],
};
