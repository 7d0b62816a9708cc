/** Counts down to the next try. */
import { useNow } from '../ui/ago';

export function Countdown({ to }: { to: number }) {
  const now = useNow(200);
  const seconds = Math.max(0, (to - now) / 1000);
  return (
    <span className="text-ink-2" data-next-try>
      {' '}
      {seconds === 0
        ? 'Trying now.'
        : `Next try in ${seconds < 10 ? seconds.toFixed(1) : Math.round(seconds)} s.`}
    </span>
  );
}
