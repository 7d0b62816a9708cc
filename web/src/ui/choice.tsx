/** A field with a list to choose from. */
import { useState } from 'react';
import { Field } from './field';
import { Select, type Option } from './select';

export interface ChoiceProps<T extends string> {
  label: string;
  value: T | null;
  options: Option<T>[];
  /** Saves the choice. Rejects with an error that is shown at the field. */
  choose: (value: T) => unknown;
  placeholder?: string;
  hint?: string | undefined;
}

export function Choice<T extends string>({
  label,
  value,
  options,
  choose,
  placeholder,
  hint,
}: ChoiceProps<T>) {
  const [error, setError] = useState<string | null>(null);

  async function take(next: T): Promise<void> {
    try {
      await choose(next);
      setError(null);
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    }
  }

  return (
    <Field label={label} error={error} hint={hint}>
      {({ id, describedBy }) => (
        <Select
          id={id}
          describedBy={describedBy}
          invalid={error !== null}
          value={value}
          options={options}
          choose={take}
          placeholder={placeholder}
        />
      )}
    </Field>
  );
}
