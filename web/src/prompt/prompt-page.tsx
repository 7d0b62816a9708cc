/** The prompt desk, for running the show in the dark, at arm's length and by touch. */
import { useCallback } from 'react';
import { Tv } from 'lucide-react';
import { Link } from 'react-router';
import { keyWords } from '@tawny-signal/core/keys/codes';
import type { DeskState } from '@tawny-signal/core/live/messages';
import { DESK_ACTS, type DeskAct } from '@tawny-signal/core/show/desk-keys';
import type { Settings, Show } from '@tawny-signal/core/show';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLiveValue } from '../live/live';
import { useNow, useOrder, type OrderNow } from '../order/use-order';
import { useOrderAct } from '../show/order-edits';
import { useShow } from '../show/show';
import { useMay } from '../people/me';
import { changeThisDesk, useThisDesk } from '../show/this-desk';
import { Button } from '../ui/button';
import { awakeWords, useAwake } from '../ui/use-awake';
import { useIsPhone } from '../ui/use-media';
import { Acts } from './acts';
import { Banks } from './banks';
import { Called } from './called';
import { Clocks } from './clocks';
import { DESK_WORDS, DeskSetup } from './desk-setup';
import { LinesHealth } from './lines-health';
import { LockButton } from './lock-button';
import { PerformanceBox } from './performance';
import { Running } from './running';
import { StandingBy } from './standing-by';
import { useDeskKeys } from './use-desk-keys';
import { useLeaveGuard } from './use-leave-guard';
import { WillDo } from './will-do';
import { notify } from '../ui/notice';
import { serverNow } from '../live/server-clock';

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
      const since = serverNow() - (called?.at ?? -Infinity);
      if (what === 'go' && since < guardMs) notify(`A second Go within ${guardMs} ms is ignored.`);
    },
    [mutate, heldAt, called, guardMs, stopAllMs],
  );
}

export function PromptPage() {
  const show = useShow();
  const order = useOrder();
  const desk = useLiveValue('desk', (store) => store.desk());
  const isOperator = useMay('operator');
  const isOnlooker = !useMay('caller');
  const watches = useThisDesk().watches || isOnlooker;
  const ticking = useNow(true);
  const now = order.heldAt ?? ticking;
  const isPhone = useIsPhone();
  const { mutate: ask } = useOrderAct();
  const { settings } = show;
  const act = useDeskActs(order, settings);
  const leaving = useLeaveGuard(desk?.locked ?? false);
  useDeskKeys(settings.deskKeys, act);
  const at = order.moments.findIndex(({ id }) => id === order.standingBy);
  const rest = at < 0 ? [] : order.moments.slice(at + 1).filter(({ parked }) => !parked);
  const standBy = (id: string): void => ask({ do: 'standBy', id, catchUp: false });
  const acts = !watches && (
    <Acts
      order={order}
      act={act}
      skip={rest[0] ? () => standBy(rest[0]!.id) : null}
      fadeOutMs={settings.stopAllMs}
      small={isPhone}
    />
  );
  return (
    <section aria-label="Prompt desk" className="flex h-full min-h-0 flex-col">
      <h1 className="sr-only">Prompt desk</h1>
      {leaving}
      <div className="flex min-h-0 flex-1 flex-col gap-5 overflow-y-auto px-3 py-3 sm:px-5 lg:flex-row lg:py-4">
        <div className="flex min-w-0 flex-1 flex-col">
          {isOnlooker ? <Onlooking /> : watches && <Watching />}
          <Restored desk={desk} />
          <StandingBy show={show} order={order} />
          {!isPhone && acts}
          {!isPhone && <KeysHint keys={settings.deskKeys} />}
          {order.jumpedFrom !== null && !watches && <JumpBack show={show} from={order.jumpedFrom} />}
          {order.next && order.known === 'now' && (
            <WillDo show={show} moment={order.next} most={isPhone ? 4 : 12} />
          )}
          <Running
            show={show}
            order={order}
            now={now}
            stop={(id) => ask({ do: 'stop', id })}
            watches={watches}
          />
          <div className="mt-auto pt-4">
            <Banks watches={watches} />
          </div>
        </div>
        <aside
          aria-label="Around it"
          className="grid content-start gap-x-6 gap-y-3.5 border-rule pt-4 max-lg:border-t sm:max-lg:grid-cols-2 lg:w-66 lg:shrink-0 lg:border-l lg:pt-0 lg:pl-5"
        >
          <Clocks now={ticking} since={order.called?.at ?? null} performance={desk?.performance ?? null} />
          {!watches && isOperator && (
            <LockButton locked={desk?.locked ?? false} armed={desk?.armed ?? true} unlock={settings.unlock} />
          )}
          <LinesHealth />
          <Next list={rest.slice(0, 3)} choose={watches ? null : standBy} />
          <Called show={show} order={order} now={ticking} standBy={watches ? null : standBy} />
          <PerformanceBox now={desk?.performance ?? null} watches={watches} />
          {isOperator && <DeskSetup settings={settings} />}
          <Afar />
        </aside>
      </div>
      {isPhone && acts}
    </section>
  );
}

function KeysHint({ keys }: { keys: Settings['deskKeys'] }) {
  return (
    <p className="pt-1.5 text-xs text-ink-2 max-lg:hidden">
      {DESK_ACTS.map((one) => (
        <span key={one}>
          <kbd className="font-mono">{keyWords(keys[one])}</kbd> {DESK_WORDS[one].toLowerCase()}
          {' · '}
        </span>
      ))}
      <kbd className="font-mono">Shift+Esc</kbd> Panic
    </p>
  );
}

/** Offers to take back the last catching up. */
function JumpBack({ show, from }: { show: Show; from: string }) {
  const { mutate: ask } = useOrderAct();
  const moment = show.moments.find(({ id }) => id === from);
  return (
    <p className="mt-3 flex flex-wrap items-center gap-3 border-l-3 border-l-straw bg-bark px-4 py-1.5 text-straw">
      The stage was caught up to here.
      <Button className="h-11" onClick={() => ask({ do: 'jumpBack' })}>
        Jump back to {moment ? momentName(moment) : 'the end'}
      </Button>
    </p>
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

/** The page that is read from far away, and what keeps the screen on here. */
function Afar() {
  const words = awakeWords(useAwake());
  return (
    <div>
      <Link
        to="/afar"
        className="inline-flex min-h-11 items-center gap-2 text-tawny-2 underline underline-offset-2"
      >
        <Tv size={16} aria-hidden /> Show it large, to be read from afar
      </Link>
      {words && <p className="text-xs text-straw">{words}</p>}
    </div>
  );
}

function Onlooking() {
  return (
    <p className="mb-3 border-l-3 border-l-dusk bg-bark px-4 py-2 text-dusk">
      You are an onlooker: you see everything, and send nothing.
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
      The engine restarted at {new Date(restored.at).toLocaleTimeString('en-GB')}.{' '}
      {restored.running.join(' and ')} {many ? 'were' : 'was'} running: the fades{' '}
      {restored.ended ? 'are at their ends' : 'were left where they were'}, and what sounded has stopped.
    </p>
  );
}

/** @param choose null where nothing may be chosen */
function Next({ list, choose }: { list: Moment[]; choose: ((id: string) => void) | null }) {
  return (
    <section aria-label="Next">
      <h2 className="pb-1 text-sm text-ink-2">Next</h2>
      {list.length === 0 && <p className="text-ink-2">Nothing after this.</p>}
      {list.map((moment) => (
        <Button
          key={moment.id}
          look="bare"
          title={choose ? 'Press to stand by here' : undefined}
          disabled={choose === null}
          className="h-11 w-full justify-start! px-1!"
          onClick={() => choose?.(moment.id)}
        >
          <span className="truncate">
            <span className="font-mono text-ink-3">{moment.cue}</span> {moment.name}
          </span>
        </Button>
      ))}
    </section>
  );
}
