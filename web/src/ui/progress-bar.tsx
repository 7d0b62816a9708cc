/** How much of something is done. */
interface ProgressBarProps {
  /** 0–1. */
  part: number;
  label: string;
}

export function ProgressBar({ part, label }: ProgressBarProps) {
  return (
    <progress
      value={part}
      aria-label={label}
      className="h-2 min-w-16 flex-1 appearance-none overflow-hidden rounded bg-rule [&::-moz-progress-bar]:bg-tawny [&::-webkit-progress-bar]:bg-rule [&::-webkit-progress-value]:bg-tawny"
    />
  );
}
