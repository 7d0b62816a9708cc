/** What somebody types into a field, until it is saved: when the field is left, or with Enter. */
import { useRef, useState, type ChangeEvent, type KeyboardEvent } from 'react';
import { useReadOnly, useReadOnlyWords } from './read-only';

export interface Draft {
  /** What the field shows. */
  text: string;
  /** Whether that is something else than what is saved. */
  typing: boolean;
  error: string | null;
  /** Says that somebody else has changed what is being typed over; null if nobody has. */
  meanwhile: string | null;
  readOnly: boolean;
  /** For the input. */
  input: {
    type: 'text';
    autoComplete: 'off';
    spellCheck: false;
    value: string;
    readOnly: boolean;
    title: string | undefined;
    'aria-invalid': boolean;
    /** Present until what was typed is saved. */
    'data-unsaved': true | undefined;
    onChange: (event: ChangeEvent<HTMLInputElement>) => void;
    onBlur: () => void;
    onKeyDown: (event: KeyboardEvent) => void;
  };
}

/**
 * @param value what is saved
 * @param commit saves what was typed. If it throws or rejects, that is the error of the field, and the text stays
 * @param title of the field, while it can be typed into
 */
export function useDraft(value: string, commit: (text: string) => unknown, title?: string): Draft {
  const readOnly = useReadOnly();
  const readOnlyWords = useReadOnlyWords();
  /** `over` is what was saved when the typing began. */
  const [draft, setDraft] = useState<{ text: string; over: string } | null>(null);
  const [error, setError] = useState<string | null>(null);
  /** What is being saved: Enter saves, and so does leaving the field while that is on its way. */
  const saving = useRef<string | null>(null);
  const typing = draft !== null && draft.text !== value;

  function drop(): void {
    setDraft(null);
    setError(null);
  }
  async function save(): Promise<void> {
    if (!typing) return drop();
    const { text } = draft;
    if (saving.current === text) return;
    saving.current = text;
    try {
      await commit(text);
      drop();
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    } finally {
      if (saving.current === text) saving.current = null;
    }
  }

  return {
    text: draft?.text ?? value,
    typing,
    error,
    meanwhile: typing && draft.over !== value ? meanwhileWords(value) : null,
    readOnly,
    input: {
      type: 'text',
      autoComplete: 'off',
      spellCheck: false,
      value: draft?.text ?? value,
      readOnly,
      title: readOnlyWords ?? title,
      'aria-invalid': error !== null,
      'data-unsaved': draft === null ? undefined : true,
      onChange: ({ target }) => {
        setDraft({ text: target.value, over: draft?.over ?? value });
        setError(null);
      },
      onBlur: () => void save(),
      onKeyDown: (event) => {
        if (event.key === 'Enter') void save();
        if (event.key === 'Escape' && draft !== null) {
          // Restores the saved text. The next Escape closes the row.
          event.stopPropagation();
          drop();
        }
      },
    },
  };
}

const meanwhileWords = (value: string): string =>
  `${value === '' ? 'Somebody has emptied it' : `Somebody has changed it to “${value}”`} meanwhile. Enter keeps yours, Esc takes theirs.`;
