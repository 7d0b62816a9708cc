/** What a stand-in received last, the newest on top. */
import type { ReactNode } from 'react';
import { clockWords } from '../traffic/words';
import type { Received } from './standing';

interface ReceivedListProps<T> {
  of: string;
  received: readonly Received<T>[];
  words: (entry: T) => ReactNode;
  /** Said of what it received and did nothing with. */
  unknown: string;
  /** What to do first. */
  empty: string;
}

export function ReceivedList<T>({ of, received, words, unknown, empty }: ReceivedListProps<T>) {
  return (
    <>
      <h3 className="pt-3 text-sm font-semibold">What it received</h3>
      <ol aria-label={`Received by the ${of}`} className="font-mono text-xs">
        {received.map((entry) => (
          <li key={entry.seq} data-got className="flex gap-3 border-b border-rule py-1">
            <span className="text-ink-3">{clockWords(entry.at)}</span>
            {words(entry)}
            {!entry.understood && <span className="text-straw">{unknown}</span>}
          </li>
        ))}
      </ol>
      {received.length === 0 && <p className="text-sm text-ink-2">{empty}</p>}
    </>
  );
}
