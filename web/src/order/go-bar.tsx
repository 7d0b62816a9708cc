/** The bar with what stands by, and Go. Shown under the running order, and large on the prompt desk. */
import { momentName } from '@tawny-signal/core/show/moment-name';
import { useOrderAct } from '../show/order-edits';
import { Button } from '../ui/button';
import { ORDER_WORDS, progressOf, useNow, useOrder } from './use-order';

export function GoBar() {
  const order = useOrder();
  const { next, running, moments, heldAt, known } = order;
  const act = useOrderAct();
  const ticking = useNow(running.length > 0 && heldAt === null);
  const now = heldAt ?? ticking;
  return (
    <section
      aria-label="Standing by"
      className="mt-2 mb-3 flex print:hidden flex-wrap items-center gap-x-5 gap-y-2 rounded border border-tawny/50 bg-raised px-4 py-2.5"
    >
      <Button
        needs="caller"
        look="main"
        className="h-14 w-30 text-2xl font-bold"
        disabled={!next || known !== 'now'}
        onClick={() => act.mutate({ do: 'go' })}
      >
        Go
      </Button>
      <div className="min-w-0 flex-1">
        <p className="text-xs text-ink-2">
          Standing by{known === 'old' && <span className="text-straw"> · {ORDER_WORDS.old}</span>}
        </p>
        <p className="truncate text-lg font-semibold">
          {known === 'unknown'
            ? ORDER_WORDS.unknown
            : next
              ? momentName(next)
              : 'Nothing: the last moment has been called.'}
        </p>
      </div>
      <div className="min-w-0 text-xs text-ink-2 max-sm:w-full sm:text-right">
        {running.map((one) => {
          const moment = moments.find(({ id }) => id === one.id);
          const progress = progressOf(one, now);
          return (
            <p key={one.id} className="truncate">
              {heldAt === null ? 'Running' : 'Held'}: {moment ? momentName(moment) : ''},{' '}
              <span className="font-mono">
                {progress ? `${progress.left.toFixed(1)} s left` : 'until stopped'}
              </span>
            </p>
          );
        })}
        {running.length === 0 && <p>Nothing running.</p>}
      </div>
      <div className="flex gap-1.5">
        <Button needs="caller" onClick={() => act.mutate({ do: heldAt === null ? 'hold' : 'resume' })}>
          {heldAt === null ? 'Hold' : 'Resume'}
        </Button>
        <Button needs="caller" onClick={() => act.mutate({ do: 'back' })}>
          Back one
        </Button>
        <Button needs="caller" onClick={() => act.mutate({ do: 'stopAll', ms: 0 })}>
          Stop all
        </Button>
      </div>
    </section>
  );
}
