/** The prompt desk, for running the show in the dark, at arm's length and by touch. */
import { Lock, LockOpen } from 'lucide-react';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { keyWords } from '@tawny-signal/core/keys/codes';
import type { DeskState } from '@tawny-signal/core/live/messages';
import { DESK_ACTS, type DeskAct } from '@tawny-signal/core/show/desk-keys';
import type { Settings } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLiveValue } from '../live/live';
import { useNow, useOrder, type OrderNow } from '../order/use-order';
import { useLock, useOrderAct } from '../show/order-edits';
import { useShow } from '../show/show';
import { changeThisDesk, useThisDesk } from '../show/this-desk';
import { Button } from '../ui/button';
import { Banks } from './banks';
import { Clocks } from './clocks';
import { DESK_WORDS, DeskSetup } from './desk-setup';
import { LinesHealth } from './lines-health';
import { PerformanceBox } from './performance';
import { Running } from './running';
import { StandingBy } from './standing-by';
import { useDeskKeys } from './use-desk-keys';
import { useLeaveGuard } from './use-leave-guard';

/** Returns the actions of the buttons and keys of the desk. */
function useDeskActs(
  { heldAt, called }: OrderNow,
  { guardMs, stopAllMs }: Settings,
): (what: DeskAct) => void {
  const { mutate } = useOrderAct();
  return useCallback(
    (what) => {
      if (what === 'hold') mutate({ do: heldAt === null ? 'hold' : 'resume' });
      else if (what === 'stopAll') mutate({ do: 'stopAll', ms: 0 });
      else if (what === 'fadeOut') mutate({ do: 'stopAll', ms: stopAllMs });
      else mutate({ do: what });
      const since = performance.timeOrigin + performance.now() - (called?.at ?? -Infinity);
      if (what === 'go' && since < guardMs)
        toast(`Go was pressed twice within ${guardMs} ms: the second one is not heeded.`, { id: 'guard' });
    },
    [mutate, heldAt, called, guardMs, stopAllMs],
  );
}

export function PromptPage() {
  const show = useShow();
  const order = useOrder();
  const desk = useLiveValue('desk', (store) => store.desk());
  const { watches } = useThisDesk();
  const ticking = useNow(true);
  const now = order.heldAt ?? ticking;
  const { mutate: ask } = useOrderAct();
  const { settings } = show;
  const act = useDeskActs(order, settings);
  useLeaveGuard(desk?.locked ?? false);
  useDeskKeys(settings.deskKeys, act);
  const at = order.moments.findIndex(({ id }) => id === order.standingBy);
  const rest = at < 0 ? [] : order.moments.slice(at + 1).filter(({ parked }) => !parked);
  const called = order.moments.find(({ id }) => id === order.called?.id);
  const standBy = (id: string): void => ask({ do: 'standBy', id, catchUp: false });
  return (
    <section
      aria-label="Prompt desk"
      className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_300px] gap-5 overflow-y-auto px-5 py-4"
    >
      <div className="flex min-w-0 flex-col">
        {watches && <Watching />}
        <Restored desk={desk} />
        <StandingBy show={show} order={order} />
        {!watches && (
          <Acts
            order={order}
            act={act}
            skip={rest[0] ? () => standBy(rest[0]!.id) : null}
            fadeOutMs={settings.stopAllMs}
          />
        )}
        <p className="pt-1.5 text-xs text-ink-3">
          {DESK_ACTS.map((one) => (
            <span key={one}>
              <kbd className="font-mono text-ink-2">{keyWords(settings.deskKeys[one])}</kbd>{' '}
              {DESK_WORDS[one].toLowerCase()}
              {' · '}
            </span>
          ))}
          <kbd className="font-mono text-ink-2">Shift+Esc</kbd> Panic
        </p>
        <Running order={order} now={now} stop={(id) => ask({ do: 'stop', id })} watches={watches} />
        <div className="mt-auto pt-4">
          <Banks />
        </div>
      </div>
      <aside aria-label="Around it" className="min-w-0 space-y-3 border-l border-rule pl-5">
        <Clocks now={ticking} since={order.called?.at ?? null} performance={desk?.performance ?? null} />
        <LinesHealth />
        <Moments title="Next" list={rest.slice(0, 3)} none="Nothing after this." choose={standBy} />
        <Moments title="Was" list={called ? [called] : []} none="Nothing was called yet." choose={standBy} />
        <PerformanceBox now={desk?.performance ?? null} watches={watches} />
        {!watches && <LockButton locked={desk?.locked ?? false} armed={desk?.armed ?? true} />}
        <DeskSetup settings={settings} />
      </aside>
    </section>
  );
}

interface ActsProps {
  order: OrderNow;
  act: (what: DeskAct) => void;
  /** Skips what stands by; null if nothing comes after it. */
  skip: (() => void) | null;
  fadeOutMs: number;
}

function Acts({ order, act, skip, fadeOutMs }: ActsProps) {
  return (
    <div className="flex gap-3 pt-4">
      <Button
        look="main"
        className="h-28 min-w-0 flex-2 text-5xl font-bold"
        disabled={!order.next || order.known !== 'now'}
        onClick={() => act('go')}
      >
        Go
      </Button>
      <Button className="h-28 flex-1 text-xl" onClick={() => act('hold')}>
        {order.heldAt === null ? 'Hold' : 'Resume'}
      </Button>
      <div className="flex flex-1 flex-col gap-2">
        <Button className="h-13 text-lg" onClick={() => act('back')}>
          Back one
        </Button>
        <Button
          className="h-13 text-lg"
          title="The one after it stands by; nothing is sent."
          disabled={!skip}
          onClick={() => skip?.()}
        >
          Skip
        </Button>
      </div>
      <div className="flex flex-1 flex-col gap-2">
        <Button className="h-13 text-lg" onClick={() => act('stopAll')}>
          Stop all
        </Button>
        <Button
          className="h-13 text-lg"
          title="The lights that moments set fade out, then all that runs stops."
          onClick={() => act('fadeOut')}
        >
          Out in {fadeOutMs / 1000} s
        </Button>
      </div>
    </div>
  );
}

function Watching() {
  return (
    <p className="mb-3 flex items-center gap-4 border-l-3 border-l-dusk bg-bark px-4 py-2 text-dusk">
      This browser only watches.
      <Button className="h-11" onClick={() => changeThisDesk({ watches: false })}>
        Operate from here
      </Button>
    </p>
  );
}

/** Says after a restart what was running before it, and what became of it. */
function Restored({ desk }: { desk: DeskState | null }) {
  const restored = desk?.restored;
  if (!restored) return null;
  const many = restored.running.length > 1;
  return (
    <p role="status" className="mb-3 border-l-3 border-l-straw bg-bark px-4 py-2 text-straw">
      The engine was started again at {new Date(restored.at).toLocaleTimeString('en-GB')}.{' '}
      {restored.running.join(' and ')} {many ? 'were' : 'was'} running: the fades{' '}
      {restored.ended ? 'are at their ends' : 'were left where they were'}, and what sounded has stopped.
    </p>
  );
}

function LockButton({ locked, armed }: { locked: boolean; armed: boolean }) {
  const lock = useLock();
  return (
    <Button
      aria-pressed={locked}
      title="Locked: armed, and nothing can be edited."
      className={`h-12 w-full ${locked ? 'border-tawny!' : ''}`}
      onClick={() => lock.mutate(!locked)}
    >
      {locked ? <Lock size={16} aria-hidden /> : <LockOpen size={16} aria-hidden />}
      {locked ? 'Locked: press to unlock' : armed ? 'Lock the show' : 'Arm and lock the show'}
    </Button>
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
