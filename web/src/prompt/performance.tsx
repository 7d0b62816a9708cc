/** The current performance, and the link to the log. */
import { Link } from 'react-router';
import type { Performance } from '@tawny-signal/core/cues/log';
import { useBeginPerformance, useEndPerformance } from '../show/order-edits';
import { Button } from '../ui/button';

export function PerformanceBox({ now, watches }: { now: Performance | null; watches: boolean }) {
  const begin = useBeginPerformance();
  const end = useEndPerformance();
  return (
    <section aria-label="Performance">
      <h2 className="pb-1 text-sm text-ink-2">Performance</h2>
      <p className="truncate">{now ? now.name : 'None yet. It begins with the first call.'}</p>
      <div className="flex gap-2 pt-1">
        {!watches && (
          <Button
            needs="caller"
            className="h-11"
            onClick={() => (now ? end.mutate(undefined) : begin.mutate(''))}
          >
            {now ? 'End' : 'Begin now'}
          </Button>
        )}
        <Link
          to={now ? `/prompt/log/${now.id}` : '/prompt/log'}
          className="inline-flex h-11 items-center px-2 text-tawny-2 underline underline-offset-2"
        >
          Log of the show
        </Link>
      </div>
    </section>
  );
}
