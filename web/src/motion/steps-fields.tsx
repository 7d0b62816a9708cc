/** The form of steps: drawn as bars, or typed as lists. */
import { MOST_STEPS, type Step } from '@tawny-signal/core/motion/makes/steps';
import type { MakeOfKind } from '@tawny-signal/core/motion/makes';
import { readList } from '@tawny-signal/core/typed/range';
import { readPercents, writePercents } from '@tawny-signal/core/typed/rate';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { DrawnValues } from './drawn-values';
import type { MakeProps } from './make-props';

/** The members of steps as lists: a list that is too short goes on with its last. */
const listed = (steps: readonly Step[], list: readonly number[], member: 'length' | 'chance'): Step[] =>
  steps.map((step, at) => ({ ...step, [member]: list[Math.min(at, list.length - 1)] ?? 1 }));

export function StepsFields({ makes, save }: MakeProps<MakeOfKind<'steps'>>) {
  const { steps } = makes;
  const put = (next: Step[]): Promise<unknown> => save({ ...makes, steps: next });
  const withValues = (values: readonly number[]): Promise<unknown> =>
    put(values.map((value, at) => ({ length: 1, tie: false, chance: 1, ...steps[at], value })));
  const ties = steps.flatMap(({ tie }, at) => (tie ? [at + 1] : []));
  return (
    <>
      <DrawnValues
        label="The steps"
        called="Step"
        values={steps.map(({ value }) => value)}
        save={withValues}
      />
      <TypedField
        label="Values"
        value={writePercents(steps.map(({ value }) => value))}
        hint={`Up to ${MOST_STEPS}, with commas between.`}
        commit={(text) => withValues(orThrow(readPercents(text, MOST_STEPS)))}
      />
      <TypedField
        label="Lengths"
        value={steps.map(({ length }) => length).join(', ')}
        hint="In steps: 2 is twice as long."
        commit={(text) => put(listed(steps, orThrow(readList(text)), 'length'))}
      />
      <TypedField
        label="Tied"
        value={ties.join(', ')}
        placeholder="none, or like 2, 4"
        hint="Steps whose note goes on from the one before."
        commit={(text) => {
          const tied = text.trim() === '' ? [] : orThrow(readList(text));
          return put(steps.map((step, at) => ({ ...step, tie: tied.includes(at + 1) })));
        }}
      />
      <TypedField
        label="Chances"
        value={writePercents(steps.map(({ chance }) => chance))}
        hint="A step that does not come leaves the one before it."
        commit={(text) => put(listed(steps, orThrow(readPercents(text, MOST_STEPS)), 'chance'))}
      />
    </>
  );
}
