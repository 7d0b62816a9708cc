/**
 * Explains a message: what mappings did with it when it arrived, with each value and each send; why the closest other mappings did not match; and the
 * change that would have made them match.
 */
import { Plus, Wrench } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { momentOfCaller } from '@tawny-signal/core/cues/callers';
import { momentName } from '@tawny-signal/core/show/moment-name';
import {
  explain,
  explainRoutes,
  mendWords,
  type Account as MappingAccount,
} from '@tawny-signal/core/explain';
import type { WhyStep } from '@tawny-signal/core/live/messages';
import { OUTCOMES } from '@tawny-signal/core/mapping/outcome';
import { controlName } from '@tawny-signal/core/layout/control-name';
import { movedMotions } from '@tawny-signal/core/motion/words';
import { gather } from '@tawny-signal/core/learn/gather';
import type { Show } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import { useLive } from '../live/live';
import type { Passing } from '../live/traffic-log';
import { useAddMapping, useChangeBank, useChangeRow, useWhy } from '../show/show';
import { clockWords, lineName, sentFor, signalsIn, wordsOf } from '../traffic/words';
import { Button } from '../ui/button';
import { Withheld } from './withheld';

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
    return (
      <>
        <Withheld show={show} passed={[heard, ...sent]} />
        <p>There are no mappings yet. Press Learn in Mappings, then this control.</p>
      </>
    );
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
      <Withheld show={show} passed={[heard, ...sent]} />
      <p className="pb-2 font-semibold">
        {took.length + calls.length > 0 ? 'Heard by:' : 'No mapping matches. The nearest:'}
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
              {took.includes(account) && (
                <Moved show={show} heard={heard} sent={sent} mappingId={account.mappingId} />
              )}
            </span>
            <MendButton show={show} account={account} />
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
      <MakeButton show={show} heard={heard} signal={signal} />
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

/** The motions that the mapping moved, with what they sent for it, or why nothing came of it. */
function Moved({ mappingId, ...props }: SendsProps) {
  const { show } = props;
  const mapping = show.mappings.find(({ id }) => id === mappingId);
  const moved = movedMotions(mapping?.sends ?? [], show);
  return moved.map(({ id, words, nothing }) => (
    <span key={`${id} ${words}`} data-moved className="block pl-3">
      {id === null ? (
        words
      ) : (
        <Link className="text-tawny-2 underline underline-offset-2" to={`/motion/${id}`}>
          {words}
        </Link>
      )}
      {nothing !== null && <span className="text-straw">, but {nothing}.</span>}
      {id !== null && <Sends {...props} mappingId={id} />}
    </span>
  ));
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
              ? ', withheld'
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
function MendButton({ show, account: { mappingId, name, mend } }: { show: Show; account: MappingAccount }) {
  const changeMapping = useChangeRow('mappings');
  const changeBank = useChangeBank();
  const changeLine = useChangeRow('lines');
  const [done, setDone] = useState(false);
  const mapping = show.mappings.find(({ id }) => id === mappingId);
  if (done)
    return (
      <span role="status" className="shrink-0 text-moss">
        Changed. Press again.
      </span>
    );
  if (!mend || !mapping) return null;
  const { hear, on, bankId, unmute } = mend;
  async function make(): Promise<void> {
    if (hear || on)
      await changeMapping.mutateAsync({
        id: mappingId,
        change: { ...(hear && { hear }), ...(on && { on }) },
      });
    if (bankId !== undefined) await changeBank.mutateAsync({ id: bankId, change: { on: true } });
    if (unmute !== undefined) await changeLine.mutateAsync({ id: unmute, change: { muted: false } });
    setDone(true);
  }
  const words = mendWords(show, mapping, mend);
  return (
    <Button
      needs="edit"
      aria-label={`${words} (${name})`}
      className="max-w-52 shrink-0"
      onClick={() => void make().catch(() => undefined)}
    >
      <Wrench size={14} aria-hidden className="shrink-0" /> {words}
    </Button>
  );
}

/** Makes a mapping for the message, which hears it and sends nothing yet. */
function MakeButton({ show, heard, signal }: { show: Show; heard: Passing; signal: Signal }) {
  const add = useAddMapping();
  const go = useNavigate();
  const [control] = gather([{ lineId: heard.lineId, signal }], show.settings.middleC);
  const hear = control?.options[0]?.hear;
  if (!hear) return null;
  const name = controlName(show.layouts, hear);
  return (
    <Button
      needs="edit"
      className="mt-3"
      onClick={() => add.mutate({ hear, name }, { onSuccess: (made) => void go(`/mappings/${made.id}`) })}
    >
      <Plus size={14} aria-hidden /> Make a mapping for this
    </Button>
  );
}
