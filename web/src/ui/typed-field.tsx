/** A text field that is saved when it is left or Enter is pressed. */
import { useState } from 'react';
import { Field } from './field';

export interface TypedFieldProps {
  label: string;
  /** The saved value, as text. */
  value: string;
  /** Saves what was typed. If it throws or rejects, the error is shown at the field, and the text stays. */
  commit: (text: string) => unknown;
  hint?: string | undefined;
  placeholder?: string | undefined;
}

export function TypedField({ label, value, commit, hint, placeholder }: TypedFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);

  async function save(): Promise<void> {
    if (draft === null || draft === value) return drop();
    try {
      await commit(draft);
      drop();
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    }
  }
  function drop(): void {
    setDraft(null);
    setError(null);
  }

  return (
    <Field label={label} error={error} hint={hint}>
      {({ id, describedBy }) => (
        <input
          id={id}
          type="text"
          autoComplete="off"
          spellCheck={false}
          value={draft ?? value}
          placeholder={placeholder}
          aria-invalid={error !== null}
          aria-describedby={describedBy}
          className={`h-8 w-full rounded border bg-paper px-2 text-ink ${error ? 'border-brick' : 'border-rule'}`}
          onChange={(event) => setDraft(event.target.value)}
          onBlur={() => void save()}
          onKeyDown={(event) => {
            if (event.key === 'Enter') void save();
            if (event.key === 'Escape' && draft !== null) {
              // Restores the saved text. The next Escape closes the row.
              event.stopPropagation();
              drop();
            }
          }}
        />
      )}
    </Field>
  );
}
