/** The selected message: its bytes, its cause or its effects, and why. */
import { X } from 'lucide-react';
import { Link } from 'react-router';
import { controlOf, writeControl } from '@tawny-signal/core/control/control';
import type { Show } from '@tawny-signal/core/show';
import { Account } from '../shell/account';
import type { Passing, TrafficView } from '../live/traffic-log';
import { Button } from '../ui/button';
import { clockWords, hexOf, lineName, rootOf, senderName, signalsIn, wordsOf } from './words';

interface TrafficDetailProps {
  record: Passing;
  /** Its number in the view. */
  n: number;
  view: TrafficView;
  show: Show;
  close: () => void;
}

/** How many records around it are searched for its cause and effects, which a delay may put far away. */
const AROUND = 2000;

function family(record: Passing, n: number, view: TrafficView): Passing[] {
  const found: Passing[] = [];
  const to = Math.min(view.end, n + AROUND);
  for (let at = Math.max(view.first, n - AROUND); at < to; at++) {
    const other = view.at(at);
    if (rootOf(other) === rootOf(record)) found.push(other);
  }
  return found;
}

export function TrafficDetail({ record, n, view, show, close }: TrafficDetailProps) {
  const all = family(record, n, view);
  const heard = all.find(({ direction }) => direction === 'in') ?? null;
  const control = signalsIn(heard ?? record, show)
    .map(controlOf)
    .find(Boolean);
  return (
    <section
      aria-label="Selected message"
      className="max-h-[42%] overflow-y-auto border-t border-l-3 border-rule border-l-tawny bg-bark px-4 py-2.5 text-sm"
    >
      <div className="flex items-start gap-4">
        <dl className="grid flex-1 grid-cols-[120px_84px_150px_1fr] gap-x-3 font-mono text-xs">
          {all.map((one) => (
            <div key={one.seq} className="contents">
              <dt className="text-ink-2">{clockWords(one.at)}</dt>
              <dd
                className={
                  one.direction === 'in' ? 'text-dusk' : one.direction === 'bad' ? 'text-brick' : 'text-tawny'
                }
              >
                {one.direction === 'heldBack' ? 'withheld' : one.direction === 'bad' ? '! in' : one.direction}
                {heard && one !== heard && ` +${(one.at - heard.at).toFixed(1)} ms`}
              </dd>
              <dd className="truncate font-sans">{lineName(show, one.lineId)}</dd>
              <dd>
                {wordsOf(one, show)} <span className="text-ink-2">{hexOf(one)}</span>
                {senderName(show, one.senderId) && (
                  <span className="font-sans text-ink-2"> · by {senderName(show, one.senderId)}</span>
                )}
              </dd>
            </div>
          ))}
        </dl>
        {heard && control && (
          <Link
            to={`/traffic/control/${heard.lineId}/${writeControl(control.control)}`}
            className="flex min-h-8 items-center rounded border border-rule px-2.5 hover:bg-bark-2"
          >
            Look closely
          </Link>
        )}
        <Button look="bare" aria-label="Close the message" onClick={close}>
          <X size={16} aria-hidden />
        </Button>
      </div>
      {heard && (
        <div className="pt-2">
          <Account show={show} heard={heard} />
        </div>
      )}
    </section>
  );
}
