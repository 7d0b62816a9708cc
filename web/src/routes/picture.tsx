/**
 * The picture of the routes: inputs on the left, outputs on the right, and a stream between them for each route, whose width shows how much passes.
 * Drag from left to right, or choose one and then the other, to make a route.
 */
import { CARRIES, isRouted } from '@tawny-signal/core/show/line';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { ringOf } from '@tawny-signal/core/routes/rings';
import { newRoute } from '@tawny-signal/core/routes/words';
import type { Line } from '@tawny-signal/core/show/line';
import type { Route } from '@tawny-signal/core/show/route';
import type { Show } from '@tawny-signal/core/show';
import { protocolOf } from '../lines/kinds';
import { useLiveValue } from '../live/live';
import { useAddRoute } from '../show/show';
import { passedPerSecond } from './streams';
import { notify } from '../ui/notice';
import { BareButton } from '../ui/button';
import { serverNow } from '../live/server-clock';

/** Stands for a route that was refused and is not in the show. */
const REFUSED = 'refused';

type Ends = Pick<Route, 'fromId' | 'toId'>;

const ROW = 34;
const WIDTH = 460;
const PAD = 10;

export function Picture({ show, openId }: { show: Show; openId: string | null }) {
  const lines = show.lines.filter((line) => isRouted(CARRIES[line.kind]));
  const [from, setFrom] = useState<Line | null>(null);
  /** The ring that a route would have closed, which was refused for it. */
  const [refused, setRefused] = useState<Route[] | null>(null);
  const add = useAddRoute();
  const go = useNavigate();
  const height = lines.length * ROW + PAD;

  function join(to: Line): void {
    if (!from) return;
    setFrom(null);
    if (protocolOf(from) !== protocolOf(to)) {
      notify(
        `${from.name} carries ${protocolOf(from)!.toUpperCase()} and ${to.name} ${protocolOf(to)!.toUpperCase()}: use a mapping to turn one into the other.`,
        { look: 'fault' },
      );
      return;
    }
    const wished = newRoute(protocolOf(from) as Route['carries'], from.id, to.id);
    const ring = ringOf(show, { ...wished, id: REFUSED } as Route);
    setRefused(ring);
    make({ fromId: from.id, toId: to.id }, ring !== null);
  }

  /** @param feedsItself true if the server will refuse it, unless it is switched off */
  function make(route: Ends & { on?: boolean }, feedsItself: boolean): void {
    const offer = { words: 'Add it switched off', run: () => make({ ...route, on: false }, false) };
    add.mutate(route, {
      onSuccess(made) {
        setRefused(null);
        void go(`/lines/routes/${made.id}`);
      },
      // The fields of the route are not visible, so the reason is shown as a message.
      onError: (error) => notify(error.message, { look: 'fault', act: feedsItself ? offer : null }),
    });
  }

  if (lines.length === 0) return null;
  return (
    <div className="grid grid-cols-[minmax(0,200px)_minmax(200px,1fr)_minmax(0,200px)] pb-3" data-picture>
      <ul aria-label="Heard on" style={{ paddingTop: PAD / 2 }}>
        {lines.map((line) => (
          <li key={line.id} style={{ height: ROW }} className="flex items-center justify-end">
            <BareButton
              needs="edit"
              draggable
              aria-pressed={from?.id === line.id}
              onDragStart={() => setFrom(line)}
              onDragEnd={() => setFrom(null)}
              onClick={() => setFrom(from?.id === line.id ? null : line)}
              className={`min-h-8 max-w-full truncate rounded border-r-4 border-dusk px-2 text-right text-sm ${from?.id === line.id ? 'bg-bark-2 font-semibold' : 'hover:bg-bark'}`}
            >
              {line.name}
            </BareButton>
          </li>
        ))}
      </ul>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        preserveAspectRatio="none"
        style={{ height }}
        className="w-full"
        aria-hidden
      >
        <Streams lines={lines} routes={show.routes} openId={openId} ring={refused} />
      </svg>
      <ul aria-label="Sent on" style={{ paddingTop: PAD / 2 }}>
        {lines.map((line) => (
          <li key={line.id} style={{ height: ROW }} className="flex items-center">
            <BareButton
              needs="edit"
              disabled={!from}
              onDragOver={(event) => from && event.preventDefault()}
              onDrop={() => join(line)}
              onClick={() => join(line)}
              className={`min-h-8 max-w-full truncate rounded border-l-4 border-tawny px-2 text-left text-sm ${from && protocolOf(from) === protocolOf(line) ? 'bg-bark hover:bg-bark-2' : ''} ${from && protocolOf(from) !== protocolOf(line) ? 'opacity-45' : ''}`}
            >
              {line.name}
            </BareButton>
          </li>
        ))}
      </ul>
      <p className="col-span-3 pt-1 text-center text-xs text-ink-2">
        {from
          ? `From ${from.name} to … choose a line on the right.`
          : 'Choose a line on the left, then one on the right, or drag between them.'}
      </p>
    </div>
  );
}

interface StreamsProps {
  lines: Line[];
  routes: Route[];
  openId: string | null;
  /** Routes of a ring that was refused, drawn in red; the refused route is among them. */
  ring: Route[] | null;
}

function Streams({ lines, routes, openId, ring }: StreamsProps) {
  const go = useNavigate();
  const cut = useLiveValue('routes', (store) => store.cutRoutes());
  const traffic = useLiveValue('traffic', (store) => store.traffic(), 500);
  const rates = useMemo(() => passedPerSecond(traffic, serverNow()), [traffic]);
  const y = (id: string | null): number => {
    const at = lines.findIndex((line) => line.id === id);
    return at < 0 ? -1 : PAD / 2 + at * ROW + ROW / 2;
  };
  const refused = ring?.find(({ id }) => id === REFUSED);
  return [...routes, ...(refused ? [refused] : [])].map((route) => {
    const [a, b] = [y(route.fromId), y(route.toId)];
    if (a < 0 || b < 0) return null;
    const rate = rates.get(route.id) ?? 0;
    const width = rate === 0 ? 1.5 : Math.min(16, 2.5 + 2 * Math.log2(1 + rate));
    const inRing = ring?.some(({ id }) => id === route.id) ?? false;
    const broken = route.id in cut || route.id === REFUSED;
    const colour = broken || inRing ? 'var(--brick)' : rate > 0 ? 'var(--tawny)' : 'var(--ink-3)';
    return (
      <path
        key={route.id}
        data-stream={route.id}
        d={`M0 ${a}C${WIDTH / 2} ${a} ${WIDTH / 2} ${b} ${WIDTH} ${b}`}
        fill="none"
        stroke={colour}
        strokeWidth={route.id === openId || inRing ? width + 2 : width}
        data-ring={inRing || undefined}
        strokeDasharray={broken || !route.on ? '6 6' : undefined}
        strokeOpacity={route.id === openId ? 1 : 0.75}
        vectorEffect="non-scaling-stroke"
        className="cursor-pointer"
        onClick={() => void go(`/lines/routes/${route.id}`)}
      >
        <title>{broken ? 'cut' : `${rate} a second`}</title>
      </path>
    );
  });
}
