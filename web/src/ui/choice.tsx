/** One of a few, chosen from a list. */
import { useState } from 'react';
import { Check, ChevronDown } from 'lucide-react';
import { Select } from 'radix-ui';
import { Field } from './field';

export interface Option<T extends string> {
  value: T;
  words: string;
}

export interface ChoiceProps<T extends string> {
  label: string;
  value: T | null;
  options: Option<T>[];
  /** Saves the choice. Rejects with what is to be said at the field. */
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
  const known = options.some((option) => option.value === value);

  async function take(next: string): Promise<void> {
    try {
      await choose(next as T);
      setError(null);
    } catch (problem) {
      setError(problem instanceof Error ? problem.message : String(problem));
    }
  }

  return (
    <Field label={label} error={error} hint={hint}>
      {({ id, describedBy }) => (
        <Select.Root value={known ? value! : ''} onValueChange={(next) => void take(next)}>
          <Select.Trigger
            id={id}
            aria-describedby={describedBy}
            className="flex h-8 w-full items-center justify-between gap-2 rounded border border-rule bg-paper px-2 text-left text-ink data-placeholder:text-straw"
          >
            <span className="truncate">
              <Select.Value placeholder={placeholder ?? 'Choose'} />
            </span>
            <ChevronDown size={14} aria-hidden className="shrink-0 text-ink-2" />
          </Select.Trigger>
          <Select.Portal>
            <Select.Content
              position="popper"
              sideOffset={2}
              className="z-50 max-h-80 min-w-(--radix-select-trigger-width) overflow-hidden rounded border border-rule bg-raised py-1 shadow-lg"
            >
              <Select.Viewport>
                {options.map((option) => (
                  <Select.Item
                    key={option.value}
                    value={option.value}
                    className="flex h-8 items-center gap-2 px-2 text-ink outline-none data-highlighted:bg-bark-2"
                  >
                    <span className="w-3.5">
                      <Select.ItemIndicator>
                        <Check size={14} aria-hidden className="text-tawny" />
                      </Select.ItemIndicator>
                    </span>
                    <Select.ItemText>{option.words}</Select.ItemText>
                  </Select.Item>
                ))}
              </Select.Viewport>
            </Select.Content>
          </Select.Portal>
        </Select.Root>
      )}
    </Field>
  );
}
