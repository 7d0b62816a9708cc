/** A Bézier curve whose two handles are moved with the pointer, or with the keys. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Bezier } from '@tawny-signal/core/motion/curves';
import { useReadOnly } from '../ui/read-only';

interface CurveProps {
  bezier: Bezier;
  save: (bezier: Bezier) => Promise<unknown>;
}

const WIDTH = 286;
const HEIGHT = 120;
const SIDE = 12;
/** What is drawn below 0 and above 1, so that a handle can go beyond. */
const BEYOND = 0.5;
const HANDLE = 7;
/** A pointer this near takes a handle, in the units of the drawing. */
const REACH = 40;

const xOf = (x: number): number => SIDE + x * (WIDTH - 2 * SIDE);
const yOf = (y: number): number => (HEIGHT * (1 + BEYOND - y)) / (1 + 2 * BEYOND);
const rounded = (value: number): number => Math.round(value * 100) / 100;
const within = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));

/** @param handle 0 for the one at the beginning, 1 for the one at the end */
function withHandle(bezier: Bezier, handle: number, x: number, y: number): Bezier {
  const next: Bezier = [...bezier];
  next[handle * 2] = rounded(within(x, 0, 1));
  next[handle * 2 + 1] = rounded(within(y, -BEYOND, 1 + BEYOND));
  return next;
}

export function DrawnCurve({ bezier, save }: CurveProps) {
  const svg = useRef<SVGSVGElement>(null);
  const readOnly = useReadOnly();
  /** While the pointer holds a handle. */
  const [drawn, setDrawn] = useState<{ bezier: Bezier; handle: number } | null>(null);
  const shown = drawn?.bezier ?? bezier;
  const handles = [0, 1].map((handle) => ({ x: xOf(shown[handle * 2]!), y: yOf(shown[handle * 2 + 1]!) }));
  const ends = [
    { x: xOf(0), y: yOf(0) },
    { x: xOf(1), y: yOf(1) },
  ];

  function pointOf(event: PointerEvent): DOMPoint {
    return new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.current!.getScreenCTM()!.inverse());
  }

  function take(event: PointerEvent): void {
    if (readOnly || event.button !== 0) return;
    const { x, y } = pointOf(event);
    const far = handles.map((one) => Math.hypot(one.x - x, one.y - y));
    const handle = far[0]! <= far[1]! ? 0 : 1;
    if (far[handle]! > REACH) return;
    svg.current!.setPointerCapture(event.pointerId);
    setDrawn({ bezier, handle });
  }

  function move(event: PointerEvent): void {
    if (!drawn) return;
    const { x, y } = pointOf(event);
    const value = 1 + BEYOND - (y * (1 + 2 * BEYOND)) / HEIGHT;
    setDrawn({
      ...drawn,
      bezier: withHandle(drawn.bezier, drawn.handle, (x - SIDE) / (WIDTH - 2 * SIDE), value),
    });
  }

  function put(next: Bezier): void {
    void save(next)
      .catch(() => undefined)
      .finally(() => setDrawn(null));
  }

  function onKey(event: KeyboardEvent, handle: number): void {
    const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] ?? 0;
    if ((across === 0 && up === 0) || readOnly) return;
    const by = event.shiftKey ? 0.1 : 0.01;
    put(withHandle(bezier, handle, bezier[handle * 2]! + across * by, bezier[handle * 2 + 1]! + up * by));
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="group"
      aria-label="Curve"
      className={`mb-1.5 w-full touch-none rounded border border-rule bg-paper ${readOnly ? '' : 'cursor-grab'}`}
      onPointerDown={take}
      onPointerMove={move}
      onPointerUp={() => drawn && put(drawn.bezier)}
      onPointerCancel={() => setDrawn(null)}
    >
      <title>Drag the handles; arrows move one.</title>
      {[0, 1].map((y) => (
        <line key={y} x1={0} x2={WIDTH} y1={yOf(y)} y2={yOf(y)} stroke="var(--bark-2)" />
      ))}
      <path
        d={`M${xOf(0)} ${yOf(0)}C${handles.map(({ x, y }) => `${x} ${y}`).join(' ')} ${xOf(1)} ${yOf(1)}`}
        fill="none"
        stroke="var(--tawny)"
        strokeWidth={2}
      />
      {handles.map(({ x, y }, handle) => (
        <g key={handle}>
          <line x1={ends[handle]!.x} y1={ends[handle]!.y} x2={x} y2={y} stroke="var(--ink-2)" />
          <circle
            cx={x}
            cy={y}
            r={HANDLE}
            tabIndex={0}
            role="slider"
            aria-label={handle === 0 ? 'Handle at the beginning' : 'Handle at the end'}
            aria-valuemin={-BEYOND}
            aria-valuemax={1 + BEYOND}
            aria-valuenow={shown[handle * 2 + 1]}
            aria-valuetext={`${shown[handle * 2]} across, ${shown[handle * 2 + 1]} up`}
            fill="var(--bark)"
            stroke="var(--tawny-2)"
            strokeWidth={2}
            className="outline-none focus-visible:fill-tawny-2"
            onKeyDown={(event) => onKey(event, handle)}
          />
        </g>
      ))}
    </svg>
  );
}
