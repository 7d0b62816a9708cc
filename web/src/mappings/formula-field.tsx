/** The field of a formula. Shows the result for the last value while it is typed, and errors at their place. */
import { useRef, useState } from 'react';
import { FORMULA_FUNCTIONS, FORMULA_NAMES, readFormula } from '@tawny-signal/core/mapping/formula';
import { firstOf } from '@tawny-signal/core/hears/parts';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useLiveValue } from '../live/live';
import { Field } from '../ui/field';
import type { ChangeShape } from './part-props';

/** The value that is used before anything was heard: the middle of a controller. */
const EXAMPLE = 64;

export function FormulaField({ mapping, change }: { mapping: Mapping; change: ChangeShape }) {
  const { shape, hear } = mapping;
  const input = useRef<HTMLInputElement>(null);
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const fired = useLiveValue('mappings', (store) => store.fired(mapping.id), 100);
  const text = draft ?? shape.formula;
  const read = readFormula(text);

  async function save(): Promise<void> {
    if (draft === null || draft === shape.formula) return setDraft(null);
    if (!read.ok) {
      setError(read.reason);
      input.current?.setSelectionRange(read.at ?? 0, text.length);
      return;
    }
    try {
      await change({ formula: draft });
      setDraft(null);
      setError(null);
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    }
  }

  return (
    <Field label="Formula" error={error} hint={hintOf(read.ok ? read.value.evaluate : null)}>
      {({ id, describedBy }) => (
        <input
          ref={input}
          id={id}
          type="text"
          autoComplete="off"
          spellCheck={false}
          value={text}
          title={`Names: ${Object.entries(FORMULA_NAMES)
            .map(([name, words]) => `${name} (${words})`)
            .join('; ')}. Functions: ${FORMULA_FUNCTIONS.join(', ')}.`}
          aria-invalid={error !== null || !read.ok}
          aria-describedby={describedBy}
          className={`h-8 w-full rounded border bg-paper px-2 font-mono text-ink ${error ? 'border-brick' : 'border-rule'}`}
          onChange={(event) => {
            setDraft(event.target.value);
            setError(null);
          }}
          onBlur={() => void save()}
          onKeyDown={(event) => {
            if (event.key === 'Enter') void save();
            if (event.key === 'Escape' && draft !== null) {
              event.stopPropagation();
              setDraft(null);
              setError(null);
            }
          }}
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
