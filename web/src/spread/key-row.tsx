/** A row of keys, typed on the keyboard itself. */
import { useState } from 'react';
import { keyWords, parseKey, type KeyCode } from '@tawny-signal/core/keys/codes';
import { Button } from '../ui/button';

interface KeyRowProps {
  codes: readonly KeyCode[];
  change: (codes: KeyCode[]) => void;
}

export function KeyRow({ codes, change }: KeyRowProps) {
  const [typing, setTyping] = useState(false);
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] gap-x-3 py-0.5">
      <span className="pt-1.5 text-sm text-ink-2">Keys</span>
      <div>
        <button
          type="button"
          aria-label="Type the keys here, one after another"
          className={`flex min-h-8 w-full flex-wrap gap-1 rounded border bg-paper p-1 text-left ${typing ? 'border-tawny' : 'border-rule'}`}
          onFocus={() => setTyping(true)}
          onBlur={() => setTyping(false)}
          onKeyDown={(event) => {
            // Tab goes on to what is next, as everywhere.
            const code = parseKey(event.code);
            if (!code || code === 'Tab' || event.ctrlKey || event.metaKey || event.repeat) return;
            event.preventDefault();
            event.stopPropagation();
            change([...codes, code]);
          }}
        >
          {codes.map((code, at) => (
            <kbd key={at} className="rounded bg-bark-2 px-1.5 py-0.5 font-mono text-xs">
              {keyWords(code)}
            </kbd>
          ))}
          {codes.length === 0 && (
            <span className="px-1 text-ink-3">
              {typing ? 'Type them, one after another.' : 'Press here, then type.'}
            </span>
          )}
        </button>
        <Button look="bare" disabled={codes.length === 0} onClick={() => change(codes.slice(0, -1))}>
          Remove the last
        </Button>
      </div>
    </div>
  );
}
