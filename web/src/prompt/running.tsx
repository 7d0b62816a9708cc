/** What is running, with the time that is left, and what follows automatically. */
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { TimeStrip } from './time-strip';
import { progressOf, type OrderNow } from '../order/use-order';
import { Button } from '../ui/button';

interface RunningProps {
  show: Show;
  order: OrderNow;
  /** Milliseconds since 1970. Stands still while the running order is held. */
  now: number;
  stop: (id: string) => void;
  watches: boolean;
}

export function Running({ show, order, now, stop, watches }: RunningProps) {
  return (
    <section aria-label="Running" className="pt-4">
      <h2 className="pb-1 text-sm text-ink-2">
        {order.heldAt === null ? 'Running, and what follows by itself' : 'Held'}
      </h2>
      <TimeStrip show={show} order={order} now={now} />
      {order.running.length === 0 && <p className="pt-1 text-ink-2">Nothing running</p>}
      <ul>
        {order.running.map((one) => {
          const moment = order.moments.find(({ id }) => id === one.id);
          const progress = progressOf(one, now);
          if (!moment) return null;
          return (
            <li
              key={one.id}
              data-runs={one.id}
              className="flex items-center gap-4 border-b border-rule py-1.5"
            >
              <span className="min-w-0 flex-1 truncate text-lg">{momentName(moment)}</span>
              <span className="h-1.5 flex-1 bg-bark-2 max-sm:hidden">
                <span className="block h-full bg-moss" style={{ width: `${(progress?.part ?? 1) * 100}%` }} />
              </span>
              <span className="text-right font-mono text-lg sm:w-28">
                {progress ? `${progress.left.toFixed(1)} s` : 'sounds on'}
              </span>
              {!watches && (
                <Button
                  className="h-11"
                  aria-label={`Stop ${momentName(moment)}`}
                  onClick={() => stop(one.id)}
                >
                  Stop
                </Button>
              )}
            </li>
          );
        })}
        {order.following.map(({ id, at }) => {
          const moment = order.moments.find((one) => one.id === id);
          return (
            <li key={`follows ${id}`} className="flex justify-between py-1.5 text-straw">
              <span>{moment && momentName(moment)} follows</span>
              <span className="font-mono">in {Math.max(0, (at - now) / 1000).toFixed(1)} s</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
