/** The moments that were called last, with what each has sent. */
import { count } from '@tawny-signal/core/plural';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { TrafficView } from '../live/traffic-log';
import type { OrderNow } from '../order/use-order';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { lengthWords } from './clocks';

/** The records that are searched for what a moment has sent. */
const LOOK_BACK = 4000;
const EVERY_MS = 500;

interface Done {
  sent: number;
  lines: Set<string>;
  /** Names of lines on which something was withheld. */
  withheld: Set<string>;
}

/** Counts what each of these calls has sent, from the traffic that is still known. */
function countSent(traffic: TrafficView, calls: OrderNow['lastCalls']): Map<string, Done> {
  const done = new Map<string, Done>();
  const oldest = Math.min(...calls.map(({ at }) => at));
  for (let n = traffic.end - 1; n >= Math.max(traffic.first, traffic.end - LOOK_BACK); n--) {
    const record = traffic.at(n);
    if (record.at < oldest - 100) break;
    const call = calls.find(({ id }) => id === record.senderId);
    if (!call || record.direction === 'in' || record.at < call.at - 100) continue;
    const one = done.get(call.id) ?? { sent: 0, lines: new Set(), withheld: new Set() };
    done.set(call.id, one);
    if (record.direction === 'heldBack') one.withheld.add(record.lineId);
    else one.sent++;
    one.lines.add(record.lineId);
  }
  return done;
}

interface CalledProps {
  show: Show;
  order: OrderNow;
  now: number;
  standBy: (id: string) => void;
}

export function Called({ show, order: { lastCalls }, now, standBy }: CalledProps) {
  const traffic = useLiveValue('traffic', (store) => store.traffic(), EVERY_MS);
  const done = lastCalls.length > 0 ? countSent(traffic, lastCalls) : new Map<string, Done>();
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
            onClick={() => standBy(id)}
          >
            <span className="min-w-0">
              <span className="block truncate">
                <span className="font-mono text-ink-3">{moment.cue}</span> {moment.name}{' '}
                <span className="font-mono text-xs text-ink-2">{lengthWords(now - at)} ago</span>
              </span>
              {place === 0 && <DoneWords show={show} done={done.get(id)} />}
            </span>
          </Button>
        );
      })}
    </section>
  );
}

function DoneWords({ show, done }: { show: Show; done: Done | undefined }) {
  if (!done) return null;
  return (
    <span data-did className="block text-xs text-ink-2">
      sent {count(done.sent, 'message')} on {count(done.lines.size, 'line')}
      {done.withheld.size > 0 && (
        <span className="text-straw">
          , withheld on {[...done.withheld].map((id) => lineName(show, id)).join(', ')}
        </span>
      )}
    </span>
  );
}
