/** The running order along the position: moments to be moved, what runs, the sources, and where the position is now. */
import { Minus, Plus } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { timelineOf } from '@tawny-signal/core/cues/timeline';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { positionAt } from '@tawny-signal/core/time/position';
import type { PlacedMark } from '@tawny-signal/core/time/tempo-marks';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { useLive } from '../live/live';
import { useOrder } from '../order/use-order';
import { IconButton } from '../ui/button';
import { useRemembered } from '../ui/remembered';
import { Switch } from '../ui/switch';
import { ShiftAll } from './shift-all';
import { Beats } from './beats';
import { Marker } from './marker';
import {
  BARS_PX,
  BEATS_PX,
  HEAD_PX,
  LABEL_PX,
  LANE_PX,
  LANES,
  lanesOf,
  placedMoments,
  rangeOf,
  tickOf,
  type Placed,
} from './strip-layout';
import { marksOf } from './tempo-marks';
import { useEachFrame, usePositionSeen } from './use-position';
import { PASSED_WORDS } from './words';

const FULL_PX = HEAD_PX + BARS_PX + LANES * LANE_PX + 8;
/** How moments are moved, in words. */
const BY_FRAMES = 'drag to move · arrows move by a frame, with Shift by a second';
const BY_BEATS = 'drag to a beat · arrows move by a beat, with Shift by a frame';
const MOST_ZOOM = 400;
/** Moments this far outside of what is seen are rendered too, in pixels. */
const MARGIN_PX = 300;

export function Strip({ show }: { show: Show }) {
  const placed = useMemo(() => placedMoments(show), [show]);
  const marks = useMemo(() => marksOf(show), [show]);
  const [toBeats, setToBeats] = useRemembered('tawny-snap-to-beats');
  const [zoom, setZoom] = useState(1);
  const [view, setView] = useState({ width: 900, left: 0 });
  const scroller = useRef<HTMLDivElement>(null);
  const { from, to } = useMemo(() => rangeOf([...placed, ...marks].map(({ ms }) => ms)), [placed, marks]);
  const perMs = (view.width / (to - from)) * zoom;
  const width = Math.round((to - from) * perMs);
  const full = FULL_PX + (marks.length > 0 ? BEATS_PX : 0);
  const seen = {
    from: from + (view.left - MARGIN_PX) / perMs,
    to: from + (view.left + view.width + MARGIN_PX) / perMs,
  };
  const snapsTo = toBeats && marks.length > 0 ? marks : null;

  useEffect(() => {
    const element = scroller.current!;
    const look = (): void => setView({ width: element.clientWidth, left: element.scrollLeft });
    const observer = new ResizeObserver(look);
    observer.observe(element);
    element.addEventListener('scroll', look);
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', look);
    };
  }, []);

  /** What is in the middle stays there. */
  const middle = useRef<number | null>(null);
  const step = (factor: number): void => {
    const { scrollLeft, clientWidth } = scroller.current!;
    middle.current = from + (scrollLeft + clientWidth / 2) / perMs;
    setZoom(Math.max(1, Math.min(MOST_ZOOM, zoom * factor)));
  };
  useLayoutEffect(() => {
    if (middle.current === null || !scroller.current) return;
    scroller.current.scrollLeft = (middle.current - from) * perMs - scroller.current.clientWidth / 2;
    middle.current = null;
  }, [from, perMs]);
  if (placed.length === 0) return <Nothing />;
  return (
    <section aria-label="The running order along the position" className="pt-4">
      <header className="flex min-h-8 flex-wrap items-center gap-x-3 text-sm text-ink-2">
        <h2>The running order along the position</h2>
        <span className="text-xs text-ink-3">{snapsTo ? BY_BEATS : BY_FRAMES}</span>
        <span className="ml-auto flex items-center gap-1">
          {marks.length > 0 && <Switch label="Snap to beats" on={toBeats} change={setToBeats} />}
          <ShiftAll show={show} />
          <IconButton label="Show more of it" disabled={zoom <= 1} onClick={() => step(0.5)}>
            <Minus size={15} aria-hidden />
          </IconButton>
          <IconButton label="Show it larger" disabled={zoom >= MOST_ZOOM} onClick={() => step(2)}>
            <Plus size={15} aria-hidden />
          </IconButton>
        </span>
      </header>
      <div
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label="Moments along the position"
        className="overflow-x-auto overflow-y-hidden border-y border-rule bg-raised"
        onKeyDown={(event) => {
          if (event.key === '+') step(2);
          if (event.key === '-') step(0.5);
        }}
      >
        <div className="relative" style={{ width, height: full }}>
          <Ticks show={show} from={from} to={to} perMs={perMs} view={view} />
          <Beats marks={marks} toBar={show.settings.beatsToBar} seen={seen} from={from} perMs={perMs} />
          <Markers show={show} placed={placed} from={from} perMs={perMs} view={view} snapsTo={snapsTo} />
          <Playhead from={from} to={to} perMs={perMs} />
        </div>
      </div>
      <Passed show={show} />
    </section>
  );
}

function Nothing() {
  return (
    <p className="mt-4 border-y border-rule py-6 text-center text-sm text-ink-2">
      No moment has a timecode yet. Press “Write times by playing”, or type one in a row of the{' '}
      <Link to="/order" className="text-tawny-2 underline underline-offset-2">
        running order
      </Link>
      .
    </p>
  );
}

interface View {
  width: number;
  left: number;
}

interface DrawnProps {
  show: Show;
  from: number;
  perMs: number;
  view: View;
}

function Ticks({ show, from, to, perMs, view }: DrawnProps & { to: number }) {
  const rate = show.settings.timecode.frameRate;
  const every = tickOf(perMs);
  const first = Math.ceil(Math.max(from, from + (view.left - MARGIN_PX) / perMs) / every);
  const last = Math.floor(Math.min(to, from + (view.left + view.width + MARGIN_PX) / perMs) / every);
  const ticks = Array.from({ length: Math.max(0, last - first + 1) }, (_, at) => (first + at) * every);
  return ticks.map((ms) => (
    <span
      key={ms}
      aria-hidden
      className="absolute inset-y-0 border-l border-rule pt-1 pl-1 font-mono text-xs text-ink-3"
      style={{ left: (ms - from) * perMs }}
    >
      {writePosition(ms, rate).slice(0, 8)}
    </span>
  ));
}

interface MarkersProps extends DrawnProps {
  placed: readonly Placed[];
  /** The tempo marks whose beats moments are moved to; null for frames. */
  snapsTo: readonly PlacedMark[] | null;
}

function Markers({ show, placed, from, perMs, view, snapsTo }: MarkersProps) {
  const { running } = useOrder();
  const position = usePositionSeen();
  const lengths = useMemo(
    () => new Map(timelineOf(show).map(({ moment, startMs, endMs }) => [moment.id, endMs - startMs])),
    [show],
  );
  const places = placed.map(({ ms }) => (ms - from) * perMs);
  const lanes = lanesOf(places, LABEL_PX);
  return placed.map((one, at) => {
    const x = places[at]!;
    if (x < view.left - MARGIN_PX || x > view.left + view.width + MARGIN_PX) return null;
    return (
      <Marker
        key={one.moment.id}
        one={one}
        x={x}
        lane={lanes[at]!}
        barPx={(lengths.get(one.moment.id) ?? 0) * perMs}
        perMs={perMs}
        snapsTo={snapsTo}
        show={show}
        running={running.some(({ id }) => id === one.moment.id)}
        next={position?.next?.id === one.moment.id}
      />
    );
  });
}

/** The position now, and where each source says that it is. Moved without rendering. */
function Playhead({ from, to, perMs }: { from: number; to: number; perMs: number }) {
  const line = useRef<HTMLSpanElement>(null);
  const ticks = useRef<HTMLSpanElement>(null);
  const { store } = useLive();
  useEachFrame((ms, now) => {
    const place = (element: HTMLElement | null, at: number | null): void => {
      if (!element) return;
      const there = at !== null && at >= from && at <= to;
      element.style.visibility = there ? 'visible' : 'hidden';
      if (there) element.style.transform = `translateX(${(at - from) * perMs}px)`;
    };
    place(line.current, ms);
    const sources = Object.values(store.transport()?.position.sources ?? {});
    const first = sources.find(({ motion, state }) => motion && state !== 'silent');
    place(ticks.current, first?.motion ? positionAt(first.motion, now) : null);
  });
  return (
    <>
      <span ref={ticks} aria-hidden className="absolute top-0 left-0 h-3 w-0.5 bg-dusk" />
      <span ref={line} data-playhead aria-hidden className="absolute inset-y-0 left-0 z-5 w-0.5 bg-tawny" />
    </>
  );
}

/** The last moments that the position passed without calling them, and why. */
function Passed({ show }: { show: Show }) {
  const position = usePositionSeen();
  const passed = (position?.passed ?? []).flatMap(({ id, why }) => {
    const moment = show.moments.find((one) => one.id === id);
    return moment ? [{ moment, why }] : [];
  });
  if (passed.length === 0) return null;
  return (
    <p className="pt-2 text-sm text-straw" data-passed>
      Not called:{' '}
      {passed
        .slice(-3)
        .toReversed()
        .map(({ moment, why }) => `${momentName(moment)} (${PASSED_WORDS[why]})`)
        .join(', ')}
      {passed.length > 3 && ` and ${passed.length - 3} before`}.
    </p>
  );
}
