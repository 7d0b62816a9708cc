/** The moments that were called last, with what each has sent. */
import { useState } from 'react';
import { count } from '@tawny-signal/core/plural';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { OrderNow } from '../order/use-order';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { lengthWords } from './clocks';
import { createSentCounter, NOTHING_SENT, type Sent } from './sent-counter';

const EVERY_MS = 500;

interface CalledProps {
  show: Show;
  order: OrderNow;
  now: number;
  /** Null where nothing may be chosen. */
  standBy: ((id: string) => void) | null;
}

export function Called({ show, order: { lastCalls }, now, standBy }: CalledProps) {
  const traffic = useLiveValue('traffic', (store) => store.traffic(), EVERY_MS);
  const [counter] = useState(createSentCounter);
  const done = lastCalls[0] ? counter.of(lastCalls[0], traffic) : NOTHING_SENT;
  return (
    <section aria-label="Called">
      <h2 className="pb-1 text-sm text-ink-2">Called</h2>
      {lastCalls.length === 0 && <p className="text-ink-2">Nothing has been called yet.</p>}
      {lastCalls.map(({ id, at }, place) => {
        const moment = show.moments.find((one) => one.id === id);
        if (!moment) return null;
        return (
          <Button
            key={`${id} ${at}`}
            look="bare"
            title="Press to stand by here"
            className="min-h-11 w-full justify-start! px-1! text-left"
            disabled={standBy === null}
            onClick={() => standBy?.(id)}
          >
            <span className="min-w-0">
              <span className="block truncate">
                <span className="font-mono text-ink-3">{moment.cue}</span> {moment.name}{' '}
                <span className="font-mono text-xs text-ink-2">{lengthWords(now - at)} ago</span>
              </span>
              {place === 0 && <DoneWords show={show} done={done} />}
            </span>
          </Button>
        );
      })}
    </section>
  );
}

function DoneWords({ show, done }: { show: Show; done: Sent }) {
  if (done.lines.size === 0) return null;
  return (
    <span data-did className="block text-xs text-ink-2">
      sent {done.isWhole ? '' : 'at least '}
      {count(done.sent, 'message')} on {count(done.lines.size, 'line')}
      {done.withheld.size > 0 && (
        <span className="text-straw">
          , withheld on {[...done.withheld].map((id) => lineName(show, id)).join(', ')}
        </span>
      )}
    </span>
  );
}
