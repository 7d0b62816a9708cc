/** How much of something is done. */
interface ProgressBarProps {
  /** 0–1; null if that is not known. */
  part: number | null;
  label: string;
}

export function ProgressBar({ part, label }: ProgressBarProps) {
  return (
    <progress
      value={part ?? undefined}
      aria-label={label}
      className="h-2 min-w-16 indeterminate:animate-pulse flex-1 appearance-none overflow-hidden rounded bg-rule [&::-moz-progress-bar]:bg-tawny [&::-webkit-progress-bar]:bg-rule [&::-webkit-progress-value]:bg-tawny"
    />
  );
}
