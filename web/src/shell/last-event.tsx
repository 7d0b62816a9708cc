/** The last events, along the bottom, with Why? for those that sent nothing. */
import { Popover } from 'radix-ui';
import { Suspense, useState } from 'react';
import { Link } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { Passing } from '../live/traffic-log';
import { useShow } from '../show/show';
import {
  clockWords,
  isShownElsewhere,
  lastEvents,
  lineName,
  senderName,
  wordsOf,
  type LiveEvent,
} from '../traffic/words';
import { Account } from './later';

export function LastEvent() {
  const show = useShow();
  const traffic = useLiveValue('traffic', (store) => store.traffic(), 120);
  const events = lastEvents(traffic, 2, (record) => isShownElsewhere(show, record));
  // The event that was asked about stays while others happen.
  const [asked, setAsked] = useState<Passing | null>(null);
  return (
    <Popover.Root open={asked !== null} onOpenChange={(open) => !open && setAsked(null)}>
      <Popover.Anchor asChild>
        <footer className="flex h-10 print:hidden items-center gap-5 overflow-hidden border-t border-rule bg-raised px-3.5 font-mono text-xs whitespace-nowrap text-ink-2">
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
              <Outcome show={show} event={event} ask={setAsked} />
            </span>
          ))}
        </footer>
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={4}
          alignOffset={14}
          aria-label="Why?"
          className="z-50 max-w-130 rounded border border-rule bg-raised p-3 text-sm text-ink shadow-lg"
        >
          {asked && (
            <Suspense>
              <Account show={show} heard={asked} />
            </Suspense>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface OutcomeProps {
  show: Show;
  event: LiveEvent;
  ask: (heard: Passing) => void;
}

function Outcome({ show, event: { heard, sent }, ask }: OutcomeProps) {
  // Delayed sends and feedback to lamps belong to their mapping.
  if (heard.direction === 'out') return <span>by {senderName(show, heard.senderId) ?? 'hand'}</span>;
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
          <button
            type="button"
            className="min-h-8 px-1 text-tawny-2 underline underline-offset-2"
            onClick={() => ask(heard)}
          >
            Why?
          </button>
        </>
      )}
    </>
  );
}
