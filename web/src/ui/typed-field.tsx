/** A text field that is saved when it is left or Enter is pressed. */
import { useState } from 'react';
import { Field } from './field';
import { useReadOnly, useReadOnlyWords } from './read-only';

export interface TypedFieldProps {
  label: string;
  /** The saved value, as text. */
  value: string;
  /** Saves what was typed. If it throws or rejects, the error is shown at the field, and the text stays. */
  commit: (text: string) => unknown;
  hint?: string | undefined;
  /** The unit of a bare number. It is shown in the field while somebody types. */
  unit?: string;
  /** Says how a text that is being typed is understood; null if it can't be read yet. */
  understood?: (text: string) => string | null;
  placeholder?: string | undefined;
}

export function TypedField({ label, value, commit, hint, unit, understood, placeholder }: TypedFieldProps) {
  const readOnly = useReadOnly();
  const readOnlyWords = useReadOnlyWords();
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

  const typing = draft !== null && draft !== value;
  const said = understood && (typing ? understood(draft) : null);

  return (
    <Field label={label} error={error} hint={hint} said={said}>
      {({ id, describedBy }) => (
        <span className="relative block">
          <input
            id={id}
            type="text"
            autoComplete="off"
            spellCheck={false}
            readOnly={readOnly}
            title={readOnlyWords}
            value={draft ?? value}
            placeholder={placeholder}
            aria-invalid={error !== null}
            aria-describedby={describedBy}
            className={`h-8 w-full rounded border px-2 ${readOnly ? 'cursor-not-allowed border-dashed bg-transparent text-ink-2' : 'bg-paper text-ink'} ${error ? 'border-brick' : 'border-rule'} ${unit && typing ? (unit.length > 8 ? 'pr-24' : 'pr-16') : ''}`}
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
          {unit && typing && (
            <span
              aria-hidden
              className="pointer-events-none absolute inset-y-0 right-2 flex items-center text-xs text-ink-2"
            >
              {unit}
            </span>
          )}
        </span>
      )}
    </Field>
  );
}
