/** A list to choose one from. */
import { Check, ChevronDown } from 'lucide-react';
import { Select as RadixSelect } from 'radix-ui';
import { cspNonce } from './csp-nonce';
import { useReadOnly, useReadOnlyWords } from './read-only';

export interface Option<T extends string> {
  value: T;
  words: string;
}

export interface SelectProps<T extends string> {
  value: T | null;
  options: Option<T>[];
  choose: (value: T) => unknown;
  placeholder?: string | undefined;
  id?: string;
  describedBy?: string | undefined;
  /** True if the last choice was refused. */
  invalid?: boolean;
  /** The label for screen readers, if there is no visible one. */
  label?: string;
  /** True if nothing has to be chosen: then it does not ask for it. */
  calm?: boolean;
}

export function Select<T extends string>({
  value,
  options,
  choose,
  placeholder,
  id,
  describedBy,
  invalid = false,
  label,
  calm = false,
}: SelectProps<T>) {
  const readOnly = useReadOnly();
  const readOnlyWords = useReadOnlyWords();
  const known = options.some((option) => option.value === value);
  return (
    <RadixSelect.Root
      disabled={readOnly}
      value={known ? value! : ''}
      onValueChange={(next) => void choose(next as T)}
    >
      <RadixSelect.Trigger
        id={id}
        aria-describedby={describedBy}
        aria-invalid={invalid}
        aria-label={label}
        title={readOnlyWords}
        className={`flex h-8 w-full items-center justify-between gap-2 rounded border px-2 text-left disabled:cursor-not-allowed disabled:border-dashed disabled:bg-transparent disabled:text-ink-2 bg-paper text-ink ${calm ? '' : 'data-placeholder:text-straw'} ${invalid ? 'border-brick' : 'border-rule'}`}
      >
        <span className="truncate">
          <RadixSelect.Value placeholder={placeholder ?? 'Choose'} />
        </span>
        <ChevronDown size={14} aria-hidden className="shrink-0 text-ink-2" />
      </RadixSelect.Trigger>
      <RadixSelect.Portal>
        <RadixSelect.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-80 min-w-(--radix-select-trigger-width) overflow-hidden rounded border border-rule bg-raised py-1 shadow-lg"
        >
          <RadixSelect.Viewport nonce={cspNonce}>
            {options.map((option) => (
              <RadixSelect.Item
                key={option.value}
                value={option.value}
                className="flex h-8 items-center gap-2 px-2 text-ink outline-none data-highlighted:bg-bark-2"
              >
                <span className="w-3.5">
                  <RadixSelect.ItemIndicator>
                    <Check size={14} aria-hidden className="text-tawny" />
                  </RadixSelect.ItemIndicator>
                </span>
                <RadixSelect.ItemText>{option.words}</RadixSelect.ItemText>
              </RadixSelect.Item>
            ))}
          </RadixSelect.Viewport>
        </RadixSelect.Content>
      </RadixSelect.Portal>
    </RadixSelect.Root>
  );
}
