/** A moment on the strip, to be moved by dragging or with the arrows. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { beatNear, type PlacedMark } from '@tawny-signal/core/time/tempo-marks';
import { frameAt, msOf, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import { useChangeRow } from '../show/show';
import { useReadOnly } from '../ui/read-only';
import { BARS_PX, HEAD_PX, LABEL_PX, LANE_PX, type Placed } from './strip-layout';

interface MarkerProps {
  one: Placed;
  x: number;
  lane: number | null;
  barPx: number;
  perMs: number;
  /** The tempo marks whose beats it is moved to; null for frames. */
  snapsTo: readonly PlacedMark[] | null;
  show: Show;
  running: boolean;
  next: boolean;
}

export function Marker(props: MarkerProps) {
  const { x, lane, barPx, perMs, snapsTo, show, running, next } = props;
  const { moment, ms } = props.one;
  const rate = show.settings.timecode.frameRate;
  const readOnly = useReadOnly();
  const { mutate } = useChangeRow('moments');
  /** How far it is dragged, in ms; null while it is not. */
  const [dragged, setDragged] = useState<number | null>(null);
  const start = useRef(0);
  const out = moment.parked || !moment.timecodeOn;
  const toFrame = (to: number): string =>
    writeTimecode(Math.max(0, frameAt(to + frameMs(rate) / 2, rate)), rate);
  const snapped = (to: number): string => toFrame((snapsTo && beatNear(snapsTo, to)) ?? to);
  const save = (timecode: string): void => {
    if (timecode !== moment.timecode) mutate({ id: moment.id, change: { timecode } });
  };
  const shown = dragged === null ? moment.timecode! : snapped(ms + dragged);

  function onKeyDown(event: KeyboardEvent): void {
    const way: -1 | 0 | 1 = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (way === 0 || readOnly) return;
    event.preventDefault();
    event.stopPropagation();
    if (!snapsTo) return save(toFrame(ms + way * (event.shiftKey ? 1000 : frameMs(rate))));
    const beat = event.shiftKey ? null : beatNear(snapsTo, ms + (way * frameMs(rate)) / 2, way);
    save(toFrame(beat ?? ms + way * frameMs(rate)));
  }
  const drag = {
    onPointerDown(event: PointerEvent<HTMLElement>) {
      if (readOnly || event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      start.current = event.clientX;
    },
    onPointerMove(event: PointerEvent<HTMLElement>) {
      if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
      const by = event.clientX - start.current;
      if (dragged !== null || Math.abs(by) > 3) setDragged(by / perMs);
    },
    onPointerUp() {
      if (dragged === null) return;
      save(shown);
      setDragged(null);
    },
    onPointerCancel: () => setDragged(null),
  };
  const colour = running ? 'moss' : next ? 'tawny' : out ? 'rule' : 'ink-3';
  const top = HEAD_PX + BARS_PX + (lane ?? 0) * LANE_PX;
  return (
    <div
      data-marker={moment.name}
      className="absolute top-0"
      style={{ left: x + (dragged ?? 0) * perMs, opacity: out ? 0.55 : 1 }}
    >
      <span
        aria-hidden
        className="absolute h-1.5 min-w-0 rounded-xs"
        style={{ top: HEAD_PX + 7, width: barPx, background: running ? 'var(--moss)' : 'var(--bark-2)' }}
      />
      <span
        aria-hidden
        className="absolute w-px"
        style={{
          top: HEAD_PX,
          height: lane === null ? BARS_PX : top - HEAD_PX + 6,
          background: `var(--${colour})`,
        }}
      />
      <span
        aria-hidden
        className="absolute -left-1 size-2 rounded-full"
        style={{ top: HEAD_PX - 3, background: `var(--${colour})` }}
      />
      {lane !== null && (
        <button
          type="button"
          title={`${momentName(moment)}, ${shown}`}
          className={`absolute block touch-none rounded px-1.5 text-left leading-4 hover:bg-bark-2 ${readOnly ? '' : 'cursor-ew-resize'}`}
          style={{ top, width: LABEL_PX, height: LANE_PX - 2 }}
          onKeyDown={onKeyDown}
          {...drag}
        >
          <span
            className={`block truncate text-sm font-semibold ${running ? 'text-moss' : next ? 'text-tawny-2' : ''}`}
          >
            {momentName(moment)}
          </span>
          <span className="sr-only">, called at </span>
          <span className="block font-mono text-xs text-ink-2">{shown}</span>
        </button>
      )}
    </div>
  );
}

const frameMs = (rate: Parameters<typeof msOf>[1]): number => msOf(1, rate);
