/** The last things that happened, along the bottom, with Why? where nothing was sent. */
import { Popover } from 'radix-ui';
import { Link } from 'react-router';
import { explain } from '@tawny-signal/core/explain';
import type { Signal } from '@tawny-signal/core/signal';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { Passing } from '../live/store';
import { useShow } from '../show/show';
import { clockWords, lastEvents, lineName, signalsIn, wordsOf, type LiveEvent } from '../traffic/words';

export function LastEvent() {
  const show = useShow();
  const traffic = useLiveValue('traffic', (store) => store.traffic(), 120);
  const events = lastEvents(traffic, 2);
  return (
    <footer className="flex h-10 items-center gap-5 overflow-hidden border-t border-rule bg-raised px-3.5 font-mono text-xs whitespace-nowrap text-ink-2">
      {events.length === 0 && (
        <span className="text-ink-3">
          Nothing has come in yet. Play the pads under{' '}
          <Link className="text-tawny-2 underline underline-offset-2" to="/stand-ins">
            Stand-ins
          </Link>
          , or a controller of your own under{' '}
          <Link className="text-tawny-2 underline underline-offset-2" to="/lines">
            Lines
          </Link>
          .
        </span>
      )}
      {events.map((event) => (
        <span
          key={event.heard.seq}
          className="flex shrink-0 items-center gap-1.5 last:min-w-0 last:shrink last:overflow-hidden"
        >
          <span className="text-ink-3">{clockWords(event.heard.at)}</span>
          <b className="text-ink">{lineName(show, event.heard.lineId)}</b>
          <span>{wordsOf(event.heard, show)}</span>
          <Outcome show={show} event={event} />
        </span>
      ))}
    </footer>
  );
}

function Outcome({ show, event: { heard, sent } }: { show: Show; event: LiveEvent }) {
  if (heard.direction === 'out') return <span>sent by hand</span>;
  if (heard.direction === 'heldBack') return <span className="text-straw">held back</span>;
  const first = sent[0];
  return (
    <>
      <span aria-label="then">→</span>
      {first ? (
        <>
          <b className="text-ink">{lineName(show, first.lineId)}</b>
          <span>{wordsOf(first, show)}</span>
          {first.direction === 'heldBack' && <span className="text-straw">held back</span>}
          {sent.length > 1 && <span>and {sent.length - 1} more</span>}
        </>
      ) : (
        <>
          <span>nothing sent</span>
          <WhyButton show={show} heard={heard} />
        </>
      )}
    </>
  );
}

function WhyButton({ show, heard }: { show: Show; heard: Passing }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="min-h-8 px-1 text-tawny-2 underline underline-offset-2">
        Why?
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={4}
          className="z-50 max-w-130 rounded border border-rule bg-raised p-3 text-sm whitespace-normal text-ink shadow-lg"
        >
          <Account show={show} heard={heard} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Account({ show, heard }: { show: Show; heard: Passing }) {
  if (heard.direction === 'bad') return <p>{heard.reason} The bytes are in Traffic.</p>;
  const signal: Signal | undefined = signalsIn(heard, show)[0];
  if (!signal) return <p>The message can’t be read.</p>;
  const accounts = explain(show, heard.lineId, signal, 3);
  if (accounts.length === 0)
    return <p>There are no mappings yet. Press Learn in Mappings, then this control.</p>;
  return (
    <>
      <p className="pb-2 font-semibold">
        {accounts[0]!.missed.length === 0 ? 'It was heard by:' : 'No mapping wants it. The nearest:'}
      </p>
      <ul className="space-y-1.5">
        {accounts.map((account) => (
          <li key={account.mappingId}>
            <Link className="text-tawny-2 underline underline-offset-2" to={`/mappings/${account.mappingId}`}>
              {account.name}
            </Link>
            <span className="text-ink-2">
              {account.missed.length === 0
                ? ': it fired, or has nothing to release.'
                : `: ${account.missed.join('; ')}.`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
