/** A labelled field of a form, with its error below. */
import { useId, type ReactNode } from 'react';

export interface FieldIds {
  id: string;
  describedBy: string | undefined;
}

export interface FieldProps {
  label: string;
  error: string | null;
  hint?: string | undefined;
  /** How what is being typed is understood; null while nothing is. Without it, nothing is ever said. */
  said?: string | null | undefined;
  /** Says that somebody else has changed what is being typed over. */
  meanwhile?: string | null;
  children: (ids: FieldIds) => ReactNode;
}

export function Field({ label, error, hint, said, meanwhile = null, children }: FieldProps) {
  const id = useId();
  const noteId = `${id}-note`;
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] items-start gap-x-3 py-0.5">
      <label htmlFor={id} className="pt-1.5 text-sm text-ink-2">
        {label}
      </label>
      <div className="min-w-0">
        {children({ id, describedBy: error || hint ? noteId : undefined })}
        {said !== undefined && (
          <p role="status" className={said === null ? 'sr-only' : 'pt-0.5 text-xs text-ink'}>
            {said !== null && `= ${said}`}
          </p>
        )}
        {meanwhile !== null && (
          <p role="status" className="pt-0.5 text-xs text-straw">
            {meanwhile}
          </p>
        )}
        {(error || hint) && (
          <p
            id={noteId}
            role={error ? 'alert' : undefined}
            className={`pt-0.5 text-xs ${error ? 'text-brick' : 'text-ink-3'}`}
          >
            {error ?? hint}
          </p>
        )}
      </div>
    </div>
  );
}
