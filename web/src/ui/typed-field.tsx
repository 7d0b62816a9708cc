/** A text field that is saved when it is left or Enter is pressed. */
import { Field } from './field';
import { useDraft } from './use-draft';

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
  const { text, typing, error, meanwhile, readOnly, input } = useDraft(value, commit);
  const said = understood && (typing ? understood(text) : null);

  return (
    <Field label={label} error={error} hint={hint} said={said} meanwhile={meanwhile}>
      {({ id, describedBy }) => (
        <span className="relative block">
          <input
            {...input}
            id={id}
            placeholder={placeholder}
            aria-describedby={describedBy}
            className={`h-8 w-full rounded border px-2 ${readOnly ? 'cursor-not-allowed border-dashed bg-transparent text-ink-2' : 'bg-paper text-ink'} ${error ? 'border-brick' : 'border-rule'} ${unit && typing ? (unit.length > 8 ? 'pr-24' : 'pr-16') : ''}`}
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
