/** The prompt desk: for running the show, in the dark, at arm's length and by touch. */
import { Lock, LockOpen } from 'lucide-react';
import { useEffect, useState } from 'react';
import { callWords, lineOfSend, momentName } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLineView } from '../lines/line-view';
import { progressOf, useNow, useOrder, type OrderNow } from '../order/use-order';
import { useOrderAct, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Banks } from './banks';
import { useLeaveGuard } from './use-leave-guard';

export function PromptPage() {
  const show = useShow();
  const order = useOrder();
  const [locked, lock] = useState(false);
  const ticking = useNow(true);
  const now = order.heldAt ?? ticking;
  const act = useOrderAct();
  useLeaveGuard(locked);
  useDeskKeys(order, (what) => act.mutate({ do: what }));
  const at = order.moments.findIndex(({ id }) => id === order.standingBy);
  const rest = at < 0 ? [] : order.moments.slice(at + 1).filter(({ parked }) => !parked);
  const called = order.moments.find(({ id }) => id === order.called?.id);
  return (
    <section
      aria-label="Prompt desk"
      className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_300px] gap-5 overflow-y-auto px-5 py-4"
    >
      <div className="flex min-w-0 flex-col">
        <StandingBy show={show} order={order} />
        <div className="flex gap-3 pt-4">
          <Button
            look="main"
            className="h-28 min-w-0 flex-2 text-5xl font-bold"
            disabled={!order.next}
            onClick={() => act.mutate({ do: 'go' })}
          >
            Go
          </Button>
          <Button
            className="h-28 flex-1 text-xl"
            onClick={() => act.mutate({ do: order.heldAt === null ? 'hold' : 'resume' })}
          >
            {order.heldAt === null ? 'Hold' : 'Resume'}
          </Button>
          <Button className="h-28 flex-1 text-xl" onClick={() => act.mutate({ do: 'back' })}>
            Back one
          </Button>
          <Button className="h-28 flex-1 text-xl" onClick={() => act.mutate({ do: 'stopAll' })}>
            Stop all
          </Button>
        </div>
        <p className="pt-1.5 text-xs text-ink-3">
          <kbd className="font-mono">Enter</kbd> go · <kbd className="font-mono">H</kbd> hold, resume ·{' '}
          <kbd className="font-mono">B</kbd> back one · <kbd className="font-mono">Shift+Esc</kbd> Panic
        </p>
        <Running order={order} now={now} stop={(id) => act.mutate({ do: 'stop', id })} />
      </div>
      <aside aria-label="Around it" className="min-w-0 space-y-4 border-l border-rule pl-5">
        <Clocks now={ticking} since={order.called?.at ?? null} />
        <Moments
          title="Next"
          list={rest.slice(0, 3)}
          none="Nothing after this."
          choose={(id) => act.mutate({ do: 'standBy', id, catchUp: false })}
        />
        <Moments
          title="Was"
          list={called ? [called] : []}
          none="Nothing was called yet."
          choose={(id) => act.mutate({ do: 'standBy', id, catchUp: false })}
        />
        <Banks />
        <Button
          aria-pressed={locked}
          className={`h-12 w-full ${locked ? 'border-tawny!' : ''}`}
          onClick={() => lock(!locked)}
        >
          {locked ? <Lock size={16} aria-hidden /> : <LockOpen size={16} aria-hidden />}
          {locked ? 'Locked: press to unlock' : 'Lock this desk'}
        </Button>
      </aside>
    </section>
  );
}

/** Enter goes, H holds and resumes, B goes back one: unless somebody types, or a button has the keyboard. */
function useDeskKeys({ heldAt }: OrderNow, act: (what: 'go' | 'hold' | 'resume' | 'back') => void): void {
  useEffect(() => {
    function onKey(event: KeyboardEvent): void {
      const { target } = event;
      const busy =
        target instanceof HTMLElement && target.matches('input, textarea, button, a, [role="combobox"]');
      if (busy || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      if (key === 'enter') act('go');
      else if (key === 'h') act(heldAt === null ? 'hold' : 'resume');
      else if (key === 'b') act('back');
      else return;
      event.preventDefault();
    }
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [act, heldAt]);
}

function StandingBy({ show, order: { next } }: { show: Show; order: OrderNow }) {
  return (
    <section aria-label="Standing by" className="border-l-3 border-l-tawny bg-bark px-5 py-4">
      <p className="text-sm text-ink-2">Standing by</p>
      {next ? (
        <>
          <p className="pt-1 text-4xl leading-11 font-bold">
            <span className="font-mono text-tawny-2">{next.cue}</span> {next.name}
          </p>
          <p className="pt-1 text-ink-2">{callWords(next, show.layouts)}</p>
          {next.notes && <p className="pt-2 text-xl leading-7">{next.notes}</p>}
          <LinesInTrouble show={show} moment={next} />
        </>
      ) : (
        <p className="pt-1 text-2xl text-ink-2">Nothing: the last one was called.</p>
      )}
    </section>
  );
}

/** Said before Go, not after. */
function LinesInTrouble({ show, moment }: { show: Show; moment: Moment }) {
  const used = new Set(moment.sends.map(lineOfSend));
  return (
    <ul aria-label="Lines in trouble" className="pt-2">
      {show.lines
        .filter(({ id }) => used.has(id))
        .map((line) => (
          <LineTrouble key={line.id} line={line} />
        ))}
    </ul>
  );
}

function LineTrouble({ line }: { line: Show['lines'][number] }) {
  const view = useLineView(line);
  if (!view.trouble) return null;
  return (
    <li className="text-lg text-brick">
      ! {line.name} is {view.shortTrouble}
    </li>
  );
}

function Running({ order, now, stop }: { order: OrderNow; now: number; stop: (id: string) => void }) {
  return (
    <section aria-label="Running" className="pt-4">
      <h2 className="pb-1 text-sm text-ink-2">{order.heldAt === null ? 'Running' : 'Held'}</h2>
      {order.running.length === 0 && <p className="text-ink-3">Nothing runs.</p>}
      <ul>
        {order.running.map((one) => {
          const moment = order.moments.find(({ id }) => id === one.id);
          const progress = progressOf(one, now);
          if (!moment) return null;
          return (
            <li
              key={one.id}
              data-runs={one.id}
              className="flex items-center gap-4 border-b border-rule py-1.5"
            >
              <span className="w-64 truncate text-lg">{momentName(moment)}</span>
              <span className="h-1.5 flex-1 bg-bark-2">
                <span className="block h-full bg-moss" style={{ width: `${(progress?.part ?? 1) * 100}%` }} />
              </span>
              <span className="w-36 text-right font-mono text-lg">
                {progress ? `${progress.left.toFixed(1)} s` : 'sounds on'}
              </span>
              <Button className="h-11" aria-label={`Stop ${momentName(moment)}`} onClick={() => stop(one.id)}>
                Stop
              </Button>
            </li>
          );
        })}
        {order.following.map(({ id, at }) => {
          const moment = order.moments.find((one) => one.id === id);
          return (
            <li key={`follows ${id}`} className="flex justify-between py-1.5 text-straw">
              <span>{moment && momentName(moment)} follows</span>
              <span className="font-mono">in {Math.max(0, (at - now) / 1000).toFixed(1)} s</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

const two = (value: number): string => String(Math.floor(value)).padStart(2, '0');

function Clocks({ now, since }: { now: number; since: number | null }) {
  const time = new Date(now);
  const ms = since === null ? null : Math.max(0, now - since);
  return (
    <dl className="grid grid-cols-2 gap-2">
      <div>
        <dt className="text-xs text-ink-3">clock</dt>
        <dd className="font-mono text-2xl">{`${two(time.getHours())}:${two(time.getMinutes())}:${two(time.getSeconds())}`}</dd>
      </div>
      <div>
        <dt className="text-xs text-ink-3">since the last Go</dt>
        <dd className="font-mono text-2xl">
          {ms === null ? '–' : `${two(ms / 60_000)}:${two((ms / 1000) % 60)}`}
        </dd>
      </div>
    </dl>
  );
}

interface MomentsProps {
  title: string;
  list: Moment[];
  none: string;
  choose: (id: string) => void;
}

function Moments({ title, list, none, choose }: MomentsProps) {
  return (
    <section aria-label={title}>
      <h2 className="pb-1 text-sm text-ink-2">{title}</h2>
      {list.length === 0 && <p className="text-ink-3">{none}</p>}
      {list.map((moment) => (
        <Button
          key={moment.id}
          look="bare"
          title="Press to stand by here"
          className="h-11 w-full justify-start! truncate"
          onClick={() => choose(moment.id)}
        >
          <span className="font-mono text-ink-3">{moment.cue}</span> {moment.name}
        </Button>
      ))}
    </section>
  );
}
