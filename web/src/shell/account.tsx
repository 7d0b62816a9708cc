/**
 * Explains a message: what mappings did with it when it arrived, with each value and each send; why the closest other mappings did not match; and the
 * change that would have made them match.
 */
import { Wrench } from 'lucide-react';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { momentOfCaller } from '@tawny-signal/core/cues/callers';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { explain, explainRoutes, type Account as MappingAccount } from '@tawny-signal/core/explain';
import type { WhyStep } from '@tawny-signal/core/live/messages';
import { OUTCOMES } from '@tawny-signal/core/mapping/outcome';
import type { Show } from '@tawny-signal/core/show';
import { useLive } from '../live/live';
import type { Passing } from '../live/traffic-log';
import { useChangeBank, useChangeRow, useWhy } from '../show/show';
import { clockWords, lineName, sentFor, signalsIn, wordsOf } from '../traffic/words';
import { Button } from '../ui/button';

/** The most sends of a message that are shown, because a fade has hundreds. */
const MOST_SENT = 8;
/** The most mappings that are named of those that did not match. */
const MOST = 3;

export function Account({ show, heard }: { show: Show; heard: Passing }) {
  const steps = useWhy(heard.seq);
  const { store } = useLive();
  const sent = useMemo(() => sentFor(store.traffic(), heard), [store, heard]);
  if (heard.direction === 'bad') return <p>{heard.reason} The bytes are in Traffic.</p>;
  const signal = signalsIn(heard, show)[0];
  if (!signal) return <p>The message can’t be read.</p>;
  const accounts = explain(show, heard.lineId, signal, show.mappings.length);
  const routes = explainRoutes(show, heard.lineId, signal);
  if (accounts.length === 0 && routes.length === 0)
    return <p>There are no mappings yet. Press Learn in Mappings, then this control.</p>;
  const stepOf = (id: string): WhyStep | undefined => steps?.find(({ mappingId }) => mappingId === id);
  const took = accounts.filter(({ mappingId, missed }) => stepOf(mappingId) ?? missed.length === 0);
  const calls = (steps ?? []).flatMap(({ mappingId, outcome }) => {
    const moment = show.moments.find(({ id }) => id === momentOfCaller(mappingId));
    return moment ? [{ moment, outcome }] : [];
  });
  const rest = accounts.filter((account) => !took.includes(account)).slice(0, MOST);
  return (
    <>
      <p className="pb-1 text-xs text-ink-3">
        {clockWords(heard.at)} {lineName(show, heard.lineId)}: {wordsOf(heard, show)}
      </p>
      <p className="pb-2 font-semibold">
        {took.length + calls.length > 0 ? 'It was heard by:' : 'No mapping wants it. The nearest:'}
      </p>
      <ul className="space-y-1.5">
        {calls.map(({ moment, outcome }) => (
          <li key={moment.id}>
            <Link className="text-tawny-2 underline underline-offset-2" to={`/order/${moment.id}`}>
              Moment {momentName(moment)}
            </Link>
            <span className="text-ink-2">: {outcome === 'fired' ? 'it was called' : OUTCOMES[outcome]}.</span>
            <Sends show={show} heard={heard} sent={sent} mappingId={moment.id} />
          </li>
        ))}
        {(took.length + calls.length > 0 ? took : rest).map((account) => (
          <li key={account.mappingId} className="flex items-start gap-2">
            <span className="flex-1">
              <Link
                className="text-tawny-2 underline underline-offset-2"
                to={`/mappings/${account.mappingId}`}
              >
                {account.name}
              </Link>
              <span className="text-ink-2">: {reasonOf(account, stepOf(account.mappingId))}</span>
              <Sends show={show} heard={heard} sent={sent} mappingId={account.mappingId} />
            </span>
            <MendButton account={account} />
          </li>
        ))}
        {routes.map((route) => (
          <li key={route.routeId}>
            <Link className="text-tawny-2 underline underline-offset-2" to={`/lines/routes/${route.routeId}`}>
              Route {route.name}
            </Link>
            <span className="text-ink-2">: {route.keptOut ?? 'passed it on'}.</span>
          </li>
        ))}
      </ul>
    </>
  );
}

const shown = (value: number): string => String(Number(value.toFixed(4)));

function reasonOf({ missed, only }: MappingAccount, step: WhyStep | undefined): string {
  if (missed.length > 0) {
    const words = missed.join('; ');
    return words.endsWith('?') ? words : `${words}.`;
  }
  if (step?.outcome === 'fired' || step?.outcome === 'released')
    return `${OUTCOMES[step.outcome]}: ${shown(step.heard)} was shaped into ${shown(step.shaped)}.`;
  // Its name at that time. It may have changed since.
  if (step) return `${OUTCOMES[step.outcome]}${only ? ` (it hears this only ${only})` : ''}.`;
  return only ? `it hears this, but only ${only}.` : 'it fired, or has nothing to release.';
}

interface SendsProps {
  show: Show;
  heard: Passing;
  sent: readonly Passing[];
  mappingId: string;
}

/** Shows what the mapping sent for it, and how long after it arrived. */
function Sends({ show, heard, sent, mappingId }: SendsProps) {
  const all = sent.filter(({ senderId }) => senderId === mappingId);
  const own = all.slice(0, MOST_SENT);
  const last = all.at(-1);
  if (!last) return null;
  return (
    <ul aria-label="What it sent" className="pl-3 font-mono text-xs">
      {own.map((one) => (
        <li key={one.seq}>
          <span className="text-tawny">{wordsOf(one, show)}</span>
          <span className="text-ink-2">
            {' '}
            on {lineName(show, one.lineId)}
            {one.direction === 'heldBack'
              ? ', held back'
              : `, ${(one.at - heard.at).toFixed(2)} ms after it came`}
          </span>
        </li>
      ))}
      {all.length > own.length && (
        <li className="text-ink-2">
          and {all.length - own.length} more, the last {(last.at - heard.at).toFixed(0)} ms after it came
        </li>
      )}
    </ul>
  );
}

/** A button that makes the change that would have fired it. */
function MendButton({ account: { mappingId, name, mend } }: { account: MappingAccount }) {
  const changeMapping = useChangeRow('mappings');
  const changeBank = useChangeBank();
  const changeLine = useChangeRow('lines');
  if (!mend) return null;
  const { hear, on, bankId, unmute } = mend;
  function make(): void {
    if (hear || on)
      changeMapping.mutate({ id: mappingId, change: { ...(hear && { hear }), ...(on && { on }) } });
    if (bankId !== undefined) changeBank.mutate({ id: bankId, change: { on: true } });
    if (unmute !== undefined) changeLine.mutate({ id: unmute, change: { muted: false } });
  }
  return (
    <Button aria-label={`Make ${name} hear this`} className="shrink-0" onClick={make}>
      <Wrench size={14} aria-hidden /> Hear this
    </Button>
  );
}
