/** The field of a formula. Shows the result for the last value while it is typed, and errors at their place. */
import { useRef } from 'react';
import { FORMULA_FUNCTIONS, FORMULA_NAMES, readFormula } from '@tawny-signal/core/mapping/formula';
import { firstOf } from '@tawny-signal/core/hears/parts';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useLiveValue } from '../live/live';
import { Field } from '../ui/field';
import { useDraft } from '../ui/use-draft';
import type { ChangeShape } from './part-props';

/** The value that is used before anything was heard: the middle of a controller. */
const EXAMPLE = 64;

export function FormulaField({ mapping, change }: { mapping: Mapping; change: ChangeShape }) {
  const { shape, hear } = mapping;
  const field = useRef<HTMLInputElement>(null);
  const fired = useLiveValue('mappings', (store) => store.fired(mapping.id), 100);
  const { text, error, meanwhile, readOnly, input } = useDraft(
    shape.formula,
    (typed) => {
      const typedAs = readFormula(typed);
      if (typedAs.ok) return change({ formula: typed });
      field.current?.setSelectionRange(typedAs.at ?? 0, typed.length);
      throw new Error(typedAs.reason);
    },
    `Names: ${Object.entries(FORMULA_NAMES)
      .map(([name, words]) => `${name} (${words})`)
      .join('; ')}. Functions: ${FORMULA_FUNCTIONS.join(', ')}.`,
  );
  const read = readFormula(text);

  return (
    <Field
      label="Formula"
      error={error}
      hint={hintOf(read.ok ? read.value.evaluate : null)}
      meanwhile={meanwhile}
    >
      {({ id, describedBy }) => (
        <input
          {...input}
          ref={field}
          id={id}
          aria-invalid={error !== null || !read.ok}
          aria-describedby={describedBy}
          className={`h-8 w-full rounded border px-2 font-mono ${readOnly ? 'cursor-not-allowed border-dashed bg-transparent text-ink-2' : 'bg-paper text-ink'} ${error ? 'border-brick' : 'border-rule'}`}
        />
      )}
    </Field>
  );

  function hintOf(evaluate: ((values: Record<keyof typeof FORMULA_NAMES, number>) => number) | null): string {
    if (!evaluate) return read.ok ? '' : read.reason;
    const value = fired?.heard ?? EXAMPLE;
    const channel = 'channels' in hear && Array.isArray(hear.channels) ? hear.channels[0] + 1 : 1;
    const number = firstOf(hear);
    const made = evaluate({ value, number, channel, force: value, was: fired?.shaped ?? 0, beat: 0 });
    const shown = Number.isFinite(made) ? Number(made.toFixed(4)) : 'no result: nothing is sent';
    return `${fired ? 'The last' : 'A'} value ${value} makes ${shown}.`;
  }
}
