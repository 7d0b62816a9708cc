/** Along the bottom of every page: what came in last with what it did, with Why? where that was nothing; and what left last. */
import { Popover } from 'radix-ui';
import { Suspense, useState } from 'react';
import { Link } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { LastEvents } from '../live/last-events';
import type { Passing } from '../live/traffic-log';
import { useShow } from '../show/show';
import { clockWords, isFeedback, isTime, lineName, senderName, wordsOf } from '../traffic/words';
import { Account } from './later';
import { useDone } from './use-done';
import { heldBackBy, heldBackWords, Withheld } from './withheld';

const EVERY_MS = 120;

const isHeldBack = ({ direction }: Passing): boolean => direction === 'heldBack';

export function LastEvent() {
  const show = useShow();
  const { heard, sent, sentCount, left } = useLiveValue('traffic', (store) => store.lastEvents(), EVERY_MS);
  // The event that was asked about stays while others happen.
  const [asked, setAsked] = useState<Passing | null>(null);
  const last = left.findLast((record) => !isFeedback(show, record) && !isTime(show, record));
  return (
    <Popover.Root open={asked !== null} onOpenChange={(open) => !open && setAsked(null)}>
      <Popover.Anchor asChild>
        <footer className="flex min-h-10 shrink-0 items-center gap-x-6 overflow-hidden border-t border-rule bg-raised px-3.5 font-mono text-xs text-ink-2 max-lg:flex-col max-lg:items-stretch max-lg:justify-center max-lg:py-1 print:hidden">
          {heard ? (
            <p data-last-in className="flex min-w-0 items-center gap-1.5">
              <span className="truncate max-sm:line-clamp-2 max-sm:h-8 max-sm:whitespace-normal">
                <span className="text-ink-2">{clockWords(heard.at)}</span>{' '}
                <b className="text-ink">{lineName(show, heard.lineId)}</b> {wordsOf(heard, show)}{' '}
                <Outcome show={show} heard={heard} sent={sent} count={sentCount} />
              </span>
              {(sentCount === 0 || sent.some(isHeldBack)) && <WhyButton ask={() => setAsked(heard)} />}
            </p>
          ) : (
            <NothingYet />
          )}
          {last && !(last.cause === heard?.seq && !last.later) && (
            <p
              data-last-out
              className="flex min-w-0 items-center gap-1.5 text-ink-2 lg:ml-auto lg:min-w-40 lg:shrink-[6]"
            >
              <span className="truncate">
                <span>{clockWords(last.at)}</span>{' '}
                {isHeldBack(last) ? <span className="text-straw">withheld</span> : 'sent'}{' '}
                <b className="text-ink">{lineName(show, last.lineId)}</b> {wordsOf(last, show)} by{' '}
                {senderName(show, last.senderId) ?? 'hand'}
              </span>
              {isHeldBack(last) && <WhyButton ask={() => setAsked(last)} />}
            </p>
          )}
        </footer>
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={4}
          alignOffset={14}
          aria-label="Why?"
          className="z-50 max-h-[70vh] w-[min(32rem,calc(100vw-1rem))] overflow-y-auto rounded border border-rule bg-raised p-3 text-sm text-ink shadow-lg"
        >
          {asked && (
            <Suspense>
              {isHeldBack(asked) ? (
                <Withheld show={show} passed={[asked]} />
              ) : (
                <Account show={show} heard={asked} />
              )}
            </Suspense>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const LINK = 'text-tawny-2 underline underline-offset-2';

function NothingYet() {
  return (
    <p>
      Nothing has come in yet. Play the pads under{' '}
      <Link className={LINK} to="/stand-ins">
        Stand-ins
      </Link>
      , or your own controller under{' '}
      <Link className={LINK} to="/lines">
        Lines
      </Link>
      .
    </p>
  );
}

function WhyButton({ ask }: { ask: () => void }) {
  return (
    <button type="button" className={`min-h-8 shrink-0 px-1 ${LINK}`} onClick={ask}>
      Why?
    </button>
  );
}

interface OutcomeProps {
  show: Show;
  heard: Passing;
  sent: LastEvents['sent'];
  count: number;
}

/** What came of a message: what it did to the show itself, and what it sent. */
function Outcome({ show, heard, sent, count }: OutcomeProps) {
  const [first] = sent;
  const done = useDone(show, heard);
  const armed = useLiveValue('desk', (store) => store.desk()?.armed ?? true);
  const why = heldBackBy(show, sent, armed);
  const nothing = sent.length === 0 && done.length === 0;
  return (
    <>
      <span aria-label="then">→</span> {done.length > 0 && <b className="text-ink">{done.join(', ')}</b>}
      {done.length > 0 && first && '; '}
      {first && (
        <>
          {isHeldBack(first) && (
            <span className="text-straw">{['withheld', ...why.map(heldBackWords)].join(', ')}: </span>
          )}
          <b className="text-ink">{lineName(show, first.lineId)}</b> {wordsOf(first, show)}
          {count > 1 && ` and ${count - 1} more`}
        </>
      )}
      {nothing && 'nothing sent'}
    </>
  );
}
