/** The bar of Learn: the control, the ways in which it can be heard, and what can be done next, each with a key. */
import { useEffect, type ReactNode } from 'react';
import { Link } from 'react-router';
import { layoutControlOf } from '@tawny-signal/core/layout/layout';
import { mappingName } from '@tawny-signal/core/mapping/words';
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { Switch } from '../ui/switch';
import type { Learn } from './learn';

interface LearnBarProps {
  learn: Learn;
  show: Show;
  /** The mapping that will hear what is touched; null for a new one. */
  target: string | null;
  /** True on another page than the sheet. The bar stays until it is ended, and leads to the mapping. */
  elsewhere?: boolean;
}

const isWriting = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.matches('input, textarea, [role="combobox"]');

export function LearnBar({ learn, show, target, elsewhere = false }: LearnBarProps) {
  useLearnKeys(learn, elsewhere);
  const open = show.mappings.find(({ id }) => id === target);
  const connected = useLiveValue('connection', (store) => store.connected());
  if (learn.phase === 'off') return null;
  if (learn.phase === 'listening' || !learn.control) {
    return (
      <Bar>
        <p>
          {!connected && (
            <span className="text-straw">
              Waiting for the connection to the server: nothing is heard until then.{' '}
            </span>
          )}
          {connected ? 'Press' : 'Then press'} a pad or move a fader.{' '}
          {open
            ? `${elsewhere ? mappingName(open) : 'The open mapping'} will hear it.`
            : 'A new mapping will hear it.'}{' '}
          Esc stops listening.
          {learn.passedOver && (
            <span className="text-straw"> Ignored, since it moves by itself: {learn.passedOver}.</span>
          )}
        </p>
      </Bar>
    );
  }
  const { control, chosen, ranging, series } = learn;
  const named = control.options[0] && layoutControlOf(show.layouts, control.options[0].hear);
  const ranged = control.options.some(({ hear }) => 'numbers' in hear || 'slots' in hear);
  return (
    <Bar>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
        <p className="mr-1">
          <b>{named ? `${named.name}: ${control.words}` : control.words}</b>{' '}
          <span className="text-ink-2">on {lineName(show, control.lineId)}</span>
        </p>
        {control.options.map((option, at) => (
          <Button
            key={option.words.replace(/\d+/g, '#')}
            aria-pressed={at === chosen}
            className={at === chosen ? 'border-tawny! font-semibold' : ''}
            onClick={() => learn.choose(at)}
          >
            {!elsewhere && <kbd className="font-mono text-xs text-ink-2">{at + 1}</kbd>} {option.words}
          </Button>
        ))}
        <span className="ml-auto flex items-center gap-2">
          {ranged && (
            <Button aria-pressed={ranging} className={ranging ? 'border-tawny!' : ''} onClick={learn.range}>
              {!elsewhere && <kbd className="font-mono text-xs text-ink-2">R</kbd>}
              {ranging ? 'Touch the last control …' : 'Make a range'}
            </Button>
          )}
          <Switch
            label={elsewhere ? 'Learn several' : 'Learn several (N)'}
            on={series}
            change={learn.setSeries}
          />
          {elsewhere && learn.mappingId !== null && (
            <Link
              to={`/mappings/${learn.mappingId}`}
              className="inline-flex min-h-8 items-center px-1 text-tawny-2 underline underline-offset-2"
            >
              Open its mapping
            </Link>
          )}
          <Button look="main" onClick={learn.stop}>
            Done
          </Button>
        </span>
      </div>
    </Bar>
  );
}

const Bar = ({ children }: { children: ReactNode }) => (
  <div role="status" data-learn className="mb-2 border-l-3 border-dusk bg-bark px-3 py-2 text-sm">
    {children}
  </div>
);

/** 1 to 9 choose, R makes a range, N goes on to the next one, Enter and Esc end it. */
function useLearnKeys(learn: Learn, elsewhere: boolean): void {
  useEffect(() => {
    if (learn.phase === 'off') return;
    function onKey(event: KeyboardEvent): void {
      if (event.key === 'Escape') {
        event.stopPropagation();
        return learn.stop();
      }
      if (
        elsewhere || // other pages have keys too
        learn.phase !== 'taken' ||
        isWriting(event.target) ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey
      )
        return;
      if (/^[1-9]$/.test(event.key)) learn.choose(Number(event.key) - 1);
      else if (event.key.toLowerCase() === 'r') learn.range();
      else if (event.key.toLowerCase() === 'n') learn.setSeries(!learn.series);
      else return;
      event.stopPropagation();
      event.preventDefault();
    }
    /** Ends learning when the person does something else, unless more is to be learned. */
    function onElsewhere(event: Event): void {
      const inside = event.target instanceof Element && event.target.closest('[data-learn]') !== null;
      if (elsewhere) return;
      if (learn.phase === 'taken' && !learn.series && !learn.ranging && !inside) learn.stop();
    }
    window.addEventListener('keydown', onKey, true);
    window.addEventListener('pointerdown', onElsewhere, true);
    window.addEventListener('focusin', onElsewhere, true);
    return () => {
      window.removeEventListener('keydown', onKey, true);
      window.removeEventListener('pointerdown', onElsewhere, true);
      window.removeEventListener('focusin', onElsewhere, true);
    };
  }, [learn, elsewhere]);
}
