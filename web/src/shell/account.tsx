/** Why a message did what it did, for the person who asked. */
import { Link } from 'react-router';
import { explain } from '@tawny-signal/core/explain';
import type { Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';
import { clockWords, lineName, signalsIn, wordsOf } from '../traffic/words';

export function Account({ show, heard }: { show: Show; heard: Passing }) {
  if (heard.direction === 'bad') return <p>{heard.reason} The bytes are in Traffic.</p>;
  const signal = signalsIn(heard, show)[0];
  if (!signal) return <p>The message can’t be read.</p>;
  const accounts = explain(show, heard.lineId, signal, 3);
  if (accounts.length === 0)
    return <p>There are no mappings yet. Press Learn in Mappings, then this control.</p>;
  return (
    <>
      <p className="pb-1 text-xs text-ink-3">
        {clockWords(heard.at)} {lineName(show, heard.lineId)}: {wordsOf(heard, show)}
      </p>
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
