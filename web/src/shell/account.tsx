/** Why a message did what it did, for the person who asked; and the change that would have made it otherwise. */
import { Wrench } from 'lucide-react';
import { Link } from 'react-router';
import { explain, explainRoutes, type Account as MappingAccount } from '@tawny-signal/core/explain';
import type { Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';
import { useChangeBank, useChangeLine, useChangeMapping } from '../show/show';
import { clockWords, lineName, signalsIn, wordsOf } from '../traffic/words';
import { Button } from '../ui/button';

const MOST = 3;

export function Account({ show, heard }: { show: Show; heard: Passing }) {
  if (heard.direction === 'bad') return <p>{heard.reason} The bytes are in Traffic.</p>;
  const signal = signalsIn(heard, show)[0];
  if (!signal) return <p>The message can’t be read.</p>;
  const accounts = explain(show, heard.lineId, signal, MOST);
  const routes = explainRoutes(show, heard.lineId, signal);
  if (accounts.length === 0 && routes.length === 0)
    return <p>There are no mappings yet. Press Learn in Mappings, then this control.</p>;
  const heeded = accounts[0]?.missed.length === 0;
  return (
    <>
      <p className="pb-1 text-xs text-ink-3">
        {clockWords(heard.at)} {lineName(show, heard.lineId)}: {wordsOf(heard, show)}
      </p>
      <p className="pb-2 font-semibold">
        {heeded ? 'It was heard by:' : 'No mapping wants it. The nearest:'}
      </p>
      <ul className="space-y-1.5">
        {accounts
          .filter((account) => !heeded || account.missed.length === 0)
          .map((account) => (
            <li key={account.mappingId} className="flex items-start gap-2">
              <span className="flex-1">
                <Link
                  className="text-tawny-2 underline underline-offset-2"
                  to={`/mappings/${account.mappingId}`}
                >
                  {account.name}
                </Link>
                <span className="text-ink-2">: {reasonOf(account)}</span>
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

function reasonOf({ missed, only }: MappingAccount): string {
  if (missed.length > 0) {
    const words = missed.join('; ');
    return words.endsWith('?') ? words : `${words}.`;
  }
  return only ? `it hears this, but only ${only}.` : 'it fired, or has nothing to release.';
}

/** Makes the change that would have fired it; Undo takes it back. */
function MendButton({ account: { mappingId, name, mend } }: { account: MappingAccount }) {
  const changeMapping = useChangeMapping();
  const changeBank = useChangeBank();
  const changeLine = useChangeLine();
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
