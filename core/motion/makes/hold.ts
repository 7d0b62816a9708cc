/** Sample and hold: at each trigger it takes the value of something else, and keeps it until the next. */
import { z } from 'zod';
import { id, lineId, slot } from '../../show/fields.js';
import type { MakeOf } from '../make.js';
import { cycleRun } from '../run.js';

const schema = z.object({
  kind: z.literal('hold'),
  /** `given`: the value that mappings, moments or motions gave to it last. */
  of: z
    .discriminatedUnion('what', [
      z.object({ what: z.literal('given') }),
      z.object({ what: z.literal('motion'), motionId: id.nullable() }),
      z.object({ what: z.literal('slot'), lineId, slot }),
    ])
    .default({ what: 'given' }),
});

const TITLES = { given: 'holds what is given', motion: 'holds a motion', slot: 'holds a slot' };

export const hold: MakeOf<typeof schema> = {
  schema,
  words: 'Hold',
  about: 'Takes the value of something else at each trigger.',
  cycles: true,
  cycle: 'step',
  waits: false,
  start: () => ({ kind: 'hold' }),
  run({ of }, stage) {
    let given: number | null = null;
    let held: number | null = null;
    let taken: number | null = null;
    const look = (): number | null => {
      if (of.what === 'given') return given;
      if (of.what === 'slot') return stage.look({ lineId: of.lineId, slot: of.slot });
      return of.motionId === null ? null : stage.look({ motionId: of.motionId });
    };
    const cycle = cycleRun(stage, {
      valueAt(place) {
        const step = Math.floor(place);
        if (step !== taken) held = look() ?? held;
        taken = step;
        return held;
      },
      next: (place) => Math.floor(place) + 1,
      moves: () => false,
    });
    return {
      ...cycle,
      press(now) {
        taken = null;
        cycle.press(now);
      },
      give: (value) => void (given = value),
    };
  },
  title: ({ of }) => TITLES[of.what],
};
