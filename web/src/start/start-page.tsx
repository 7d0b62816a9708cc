/**
 * The first visit: the pads and the screen that they drive, side by side, with the mapping between them, and three steps that tick themselves off. It
 * uses the demo show; in another show it says where to begin.
 */
import { Check, Radio } from 'lucide-react';
import { useCallback, useEffect, useState, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { controlName } from '@tawny-signal/core/layout/control-name';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { count } from '@tawny-signal/core/plural';
import { sendAs, sendTitle } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useLive, useLiveValue } from '../live/live';
import { useLearn, type LearnTaker } from '../mappings/learn';
import { useAddMapping, useChangeRow, useShow } from '../show/show';
import { PierPads } from '../stand-ins/pier-pads';
import { useStandIn } from '../stand-ins/standing';
import { WaterPicture } from '../stand-ins/water-screen';
import { Ago } from '../ui/ago';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Empty, Page } from '../ui/page';
import { setWelcomed } from './welcomed';

/** The mapping of the demo show that the steps are about, and the lines that it joins. */
const FIRST = 'storm-go';
const PADS = 'pier-pads';
const SCREEN = 'water-screen';
/** What the water screen does with each of some addresses. */
const EFFECTS = [
  { value: '/moment/storm/go', words: 'Break the storm glass' },
  { value: '/bell/ripple', words: 'Send a ripple' },
  { value: '/tide/height', words: 'Raise the tide' },
  { value: '/fog/density', words: 'Bring in the fog' },
  { value: '/lantern/glow', words: 'Light the lantern' },
];

export function StartPage() {
  const show = useShow();
  const go = useNavigate();
  const first = show.mappings.find(({ id }) => id === FIRST);
  const isDemo =
    first !== undefined && [PADS, SCREEN].every((id) => show.lines.some((line) => line.id === id));
  const leave = (): void => {
    setWelcomed();
    void go('/mappings');
  };
  return (
    <Page
      title="First steps"
      aside={<p className="text-sm text-ink-2">Press a pad, and something happens on a screen.</p>}
      actions={<Button onClick={leave}>{isDemo ? 'Skip to the mappings' : 'Go to the mappings'}</Button>}
    >
      {isDemo ? (
        <Steps show={show} first={first} leave={leave} />
      ) : (
        <Empty words="The first steps use the demo show, which is not open. Begin with a line for your controller, and one for the program that it drives.">
          <Link to="/lines/new" className="text-tawny-2 underline underline-offset-2">
            Add a line
          </Link>
        </Empty>
      )}
    </Page>
  );
}

interface WaterState {
  count: number;
}

function Steps({ show, first, leave }: { show: Show; first: Mapping; leave: () => void }) {
  const change = useChangeRow('mappings');
  const [began] = useState(() => new Set(show.mappings.map(({ id }) => id)));
  const [address] = useState(() => addressOf(first));
  const [own, setOwn] = useState<string | null>(null);
  const received = useStandIn<WaterState>(SCREEN)?.count ?? 0;
  const sentBy = useSenders();
  const mine = show.mappings.find(({ id }) => id === own && !began.has(id));
  const learn = useLearn(useTaker(show, setOwn));
  const pressed = sentBy.has(FIRST);
  const changed = addressOf(first) !== address;
  const learned = mine !== undefined && mine.sends.length > 0 && sentBy.has(mine.id);
  const choose = (mapping: Mapping, next: string): Promise<unknown> =>
    change.mutateAsync({
      id: mapping.id,
      change: { sends: [{ ...sendAs('osc', SCREEN), address: next } as never] },
    });
  return (
    <div className="grid min-h-0 flex-1 content-start gap-x-6 gap-y-4 overflow-y-auto border-t border-rule pt-3 pb-6 lg:grid-cols-[300px_minmax(0,1fr)_300px]">
      <PierPads />
      <div className="min-w-0 max-lg:order-first">
        <h2 className="pb-1 font-semibold">Water screen</h2>
        <div className="aspect-[16/9] w-full overflow-hidden rounded border border-rule">
          <WaterPicture small={false} />
        </div>
        <p className="pt-1 pb-3 text-xs text-ink-2">
          A program of its own, which receives OSC over UDP: {count(received, 'message')} so far.
        </p>
        <Between mapping={first} show={show} />
        {mine && <Between mapping={mine} show={show} />}
      </div>
      <ol aria-label="Steps" className="space-y-4">
        <Step number={1} title="Press pad 1" done={pressed}>
          It sends a note. The mapping hears it and sends an OSC message to the water screen.
        </Step>
        <Step number={2} title="Change what it does" done={changed}>
          <Choice
            label="Pad 1 will"
            value={EFFECTS.some(({ value }) => value === addressOf(first)) ? addressOf(first) : null}
            options={EFFECTS}
            choose={(next) => choose(first, next)}
          />
          <p>Press pad 1 again. Ctrl+Z takes the change back.</p>
        </Step>
        <Step number={3} title="Learn your own" done={learned}>
          {!mine && (
            <>
              <p className="pb-1.5">
                {learn.phase === 'listening'
                  ? 'Press a pad that is free, such as pad 12, or move a fader.'
                  : 'A new mapping hears whatever you touch next.'}
              </p>
              <Button needs="edit" look="main" onClick={learn.phase === 'off' ? learn.start : learn.stop}>
                <Radio size={15} aria-hidden /> {learn.phase === 'listening' ? 'Listening …' : 'Learn'}
              </Button>
            </>
          )}
          {mine && (
            <>
              <Choice
                label={`${mappingName(mine)} will`}
                value={addressOf(mine) || null}
                placeholder="Choose what it does"
                options={EFFECTS}
                choose={(next) => choose(mine, next)}
              />
              {mine.sends.length > 0 && !learned && <p>Now press it.</p>}
            </>
          )}
        </Step>
        {pressed && changed && learned && (
          <li>
            <p className="pb-2">That is all there is to it. Everything else is more of the same.</p>
            <Button look="main" onClick={leave}>
              Open the mappings
            </Button>
          </li>
        )}
      </ol>
    </div>
  );
}

/** Returns the mappings that have sent something since this page was opened. */
function useSenders(): ReadonlySet<string> {
  const { store } = useLive();
  const [senders, setSenders] = useState<ReadonlySet<string>>(new Set());
  useEffect(
    () =>
      store.onTraffic((records) => {
        const ids = records.map(({ senderId }) => senderId).filter((id) => id !== null);
        setSenders((before) => (ids.every((id) => before.has(id)) ? before : new Set([...before, ...ids])));
      }),
    [store],
  );
  return senders;
}

const addressOf = ({ sends }: Mapping): string => (sends[0]?.kind === 'osc' ? sends[0].address : '');

/** What is learned here becomes a new mapping, and the page stays. */
function useTaker(show: Show, made: (id: string) => void): LearnTaker {
  const { mutateAsync: add } = useAddMapping();
  const { layouts } = show;
  const take = useCallback<LearnTaker['take']>(
    async ({ hear }) => {
      const row = await add({ hear, name: controlName(layouts, hear) }).catch(() => null);
      if (row) made(row.id);
      return row?.id ?? null;
    },
    [add, layouts, made],
  );
  // The first guess is good enough here; the sheet offers the others.
  const retake = useCallback(() => undefined, []);
  return { take, retake };
}

/** The mapping between the pads and the screen, lit while it passes something. */
function Between({ mapping, show }: { mapping: Mapping; show: Show }) {
  const fired = useLiveValue('mappings', (store) => store.fired(mapping.id), 60);
  const [send] = mapping.sends;
  const number = (value: number): string => String(Number(value.toFixed(3)));
  return (
    <div
      key={fired?.count ?? 0}
      data-between={mapping.id}
      className={`mb-1.5 border-l-3 border-tawny bg-bark px-3 py-2 text-sm ${fired ? 'animate-passed' : ''}`}
    >
      <p className="font-semibold">{mappingName(mapping)}</p>
      <p className="font-mono text-xs">
        <span className="text-dusk">{controlName(show.layouts, mapping.hear)}</span>{' '}
        {fired && `${number(fired.heard)} → ${number(fired.shaped)}`} →{' '}
        <span className="text-tawny">{send ? sendTitle(send, show.settings.middleC) : 'nothing yet'}</span>
        {fired && (
          <span className="text-ink-2">
            {' '}
            · <Ago at={fired.at} /> ago
          </span>
        )}
      </p>
    </div>
  );
}

interface StepProps {
  number: number;
  title: string;
  done: boolean;
  children: ReactNode;
}

function Step({ number, title, done, children }: StepProps) {
  return (
    <li data-step={number} data-done={done}>
      <h2 className="flex items-center gap-2 font-semibold">
        <span
          className={`inline-flex size-6 items-center justify-center rounded-full border text-sm ${done ? 'border-moss text-moss' : 'border-rule text-ink-2'}`}
        >
          {done ? <Check size={14} aria-hidden /> : number}
        </span>
        {title}
        {done && <span className="sr-only">done</span>}
      </h2>
      <div className="pt-1 pl-8 text-sm text-ink-2">{children}</div>
    </li>
  );
}
