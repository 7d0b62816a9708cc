import { Switch as RadixSwitch } from 'radix-ui';
import { useReadOnly, useReadOnlyWords } from './read-only';

export interface SwitchProps {
  label: string;
  on: boolean;
  change: (on: boolean) => void;
}

/** A switch with its label. */
export function Switch({ label, on, change }: SwitchProps) {
  const readOnly = useReadOnly();
  const readOnlyWords = useReadOnlyWords();
  return (
    <label className="inline-flex min-h-8 items-center gap-2 text-sm text-ink-2">
      <RadixSwitch.Root
        checked={on}
        onCheckedChange={change}
        aria-label={label}
        disabled={readOnly}
        title={readOnlyWords}
        className="relative h-4.5 w-8 shrink-0 rounded-full border border-rule bg-bark-2 disabled:cursor-not-allowed disabled:opacity-50 data-[state=checked]:bg-moss"
      >
        <RadixSwitch.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-ink transition-transform data-[state=checked]:translate-x-3.5" />
      </RadixSwitch.Root>
      {label}
    </label>
  );
}
