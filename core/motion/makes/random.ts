/** Random values: new ones that are held, or that it glides between; or a walk that goes up and down by small steps. Always the same for the same seed. */
import { z } from 'zod';
import { rollAt } from '../../dice.js';
import { whole } from '../../show/fields.js';
import type { MakeOf } from '../make.js';
import { cycleRun } from '../run.js';

const FAR = 'A step of the walk is 1 to 100 %.';

const schema = z.object({
  kind: z.literal('random'),
  way: z.enum(['held', 'glided', 'walk']).default('held'),
  /** For `walk`: how far a step goes at most, 0–1. */
  far: z.number(FAR).min(0.01, FAR).max(1, FAR).default(0.1),
  /** Another seed gives other values. */
  seed: whole(0, 999_999, 'A seed is a whole number from 0 to 999 999.').default(1),
});

/** The most steps that a walk goes at once. Those before them are left out. */
const MOST_AT_ONCE = 65_536;

/** A walk as a function of the number of its steps: it begins in the middle and turns at the ends. */
function createWalk(seed: number, far: number): (step: number) => number {
  let at = 0;
  let value = 0.5;
  return (step) => {
    if (step < at) {
      at = 0;
      value = 0.5;
    }
    if (step - at > MOST_AT_ONCE) at = step - MOST_AT_ONCE;
    for (; at < step; at++) {
      const next = value + (rollAt(seed, at) * 2 - 1) * far;
      value = next < 0 ? -next : next > 1 ? 2 - next : next;
    }
    return value;
  };
}

const TITLES = { held: 'new values', glided: 'new values, gliding', walk: 'a walk' };

export const random: MakeOf<typeof schema> = {
  schema,
  words: 'Random',
  about: 'New values by chance.',
  cycles: true,
  cycle: 'step',
  waits: false,
  start: () => ({ kind: 'random' }),
  run({ way, far, seed }, stage) {
    const all = (seed ^ stage.seed) >>> 0;
    const walk = createWalk(all, far);
    return cycleRun(stage, {
      valueAt(place) {
        const step = Math.floor(place);
        if (way === 'walk') return walk(Math.max(0, step));
        const here = rollAt(all, step);
        return way === 'held' ? here : here + (rollAt(all, step + 1) - here) * (place - step);
      },
      next: (place) => Math.floor(place) + 1,
      moves: () => way === 'glided',
    });
  },
  title: ({ way }) => TITLES[way],
};
