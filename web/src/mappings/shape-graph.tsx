/** The curve of a shape, with a dot at the last value. A press on it adds a point, which can be dragged or moved with keys. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { curveValue } from '@tawny-signal/core/mapping/shape';
import type { Shape } from '@tawny-signal/core/show/shape';
import { writeScale } from '@tawny-signal/core/typed/range';
import { useLiveValue } from '../live/live';
import { curveEnds, curvePath, placeOf } from './curve';
import type { ChangeShape } from './part-props';

const WIDTH = 286;
const HEIGHT = 76;
const EDGE = 6;
/** A press within this distance of a point selects it, in units of the drawing. */
const NEAR = 9;

type Points = Shape['table'];

const rounded = (value: number, span: number): number => {
  // As fine as a step of the heard value, without extra digits.
  const digits = Math.max(0, 3 - Math.floor(Math.log10(Math.max(1e-6, span))));
  return Number(value.toFixed(Math.min(6, digits)));
};

/** Returns the first points of a curve that is drawn on. */
const startPoints = (shape: Shape): Points =>
  shape.curve === 'table' && shape.table.length > 1
    ? shape.table
    : [0, 0.25, 0.5, 0.75, 1]
        .filter((part) => shape.curve !== 'straight' || part === 0 || part === 1)
        .map((part) => shape.in[0] + part * (shape.in[1] - shape.in[0]))
        .sort((a, b) => a - b)
        .map((x) => [x, curveValue(shape, x)]);

interface GraphProps {
  mappingId: string;
  shape: Shape;
  change: ChangeShape;
}

export function ShapeGraph({ mappingId, shape, change }: GraphProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [drawn, setDrawn] = useState<{ points: Points; held: number } | null>(null);
  const fired = useLiveValue('mappings', (store) => store.fired(mappingId), 33);
  const shown: Shape = drawn ? { ...shape, curve: 'table', table: drawn.points } : shape;
  const place = fired && shape.each === 'value' ? placeOf(shown, fired.heard) : null;
  const x = (place?.x ?? 0) * WIDTH;
  const y = (1 - (place?.y ?? 0)) * HEIGHT;
  const { x: span, y: levels } = curveEnds(shown);
  const canDraw = shape.each === 'value' && shape.curve !== 'formula' && shape.curve !== 'frequency';
  const points = shown.curve === 'table' && shape.each === 'value' ? shown.table : [];
  const xOf = (value: number): number => ((value - span[0]) / (span[1] - span[0])) * WIDTH;
  const yOf = (value: number): number =>
    levels[1] === levels[0] ? HEIGHT / 2 : (1 - (value - levels[0]) / (levels[1] - levels[0])) * HEIGHT;

  /** Returns the heard and sent value at the pointer. */
  function at(event: PointerEvent): { x: number; y: number; value: [number, number] } {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    const px = Math.max(0, Math.min(WIDTH, point.x));
    const py = Math.max(0, Math.min(HEIGHT, point.y));
    const heard = span[0] + (px / WIDTH) * (span[1] - span[0]);
    const sent = levels[0] + (1 - py / HEIGHT) * (levels[1] - levels[0]);
    return {
      x: point.x,
      y: point.y,
      value: [rounded(heard, span[1] - span[0]), rounded(sent, levels[1] - levels[0])],
    };
  }

  /** Moves a point between its neighbours. The first and last point stay at the ends. */
  function moved(list: Points, held: number, [heard, sent]: [number, number]): Points {
    const step = (span[1] - span[0]) / 1000;
    const before = list[held - 1];
    const after = list[held + 1];
    const isEnd = !before || !after;
    const inside = isEnd ? list[held]![0] : Math.max(before[0] + step, Math.min(after[0] - step, heard));
    return list.with(held, [rounded(inside, span[1] - span[0]), sent]);
  }

  function press(event: PointerEvent): void {
    if (!canDraw || event.button !== 0) return;
    const pointer = at(event);
    const list = startPoints(shape);
    let held = list.findIndex(([px, py]) => Math.hypot(xOf(px) - pointer.x, yOf(py) - pointer.y) < NEAR);
    let next = list;
    if (held < 0) {
      const after = list.findIndex(([heard]) => heard > pointer.value[0]);
      if (after <= 0 || list.length >= 64) return;
      held = after;
      next = list.toSpliced(after, 0, pointer.value);
    }
    svg.current!.setPointerCapture(event.pointerId);
    setDrawn({ points: next, held });
  }
  function drag(event: PointerEvent): void {
    if (drawn) setDrawn({ ...drawn, points: moved(drawn.points, drawn.held, at(event).value) });
  }
  function put(list: Points): void {
    void change({ curve: 'table', table: list })
      .catch(() => undefined)
      .finally(() => setDrawn(null));
  }

  function onKey(event: KeyboardEvent, held: number): void {
    const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] ?? 0;
    const isEnd = held === 0 || held === points.length - 1;
    if (event.key === 'Delete' && !isEnd) put(points.toSpliced(held, 1));
    else if (across === 0 && up === 0) return;
    else {
      const [heard, sent] = points[held]!;
      const size = event.shiftKey ? 0.1 : 0.02;
      const next = sent + up * size * (levels[1] - levels[0]);
      put(
        moved(points, held, [
          heard + across * size * (span[1] - span[0]),
          rounded(next, levels[1] - levels[0]),
        ]),
      );
    }
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <svg
      ref={svg}
      viewBox={`${-EDGE} ${-EDGE} ${WIDTH + 2 * EDGE} ${HEIGHT + 2 * EDGE}`}
      role="group"
      aria-label={`Heard ${writeScale(shape.in)} becomes ${writeScale(shape.out)}`}
      className={`mb-1.5 h-21 w-full touch-none rounded border border-rule bg-paper ${canDraw ? 'cursor-crosshair' : ''}`}
      onPointerDown={press}
      onPointerMove={drag}
      onPointerUp={() => drawn && put(drawn.points)}
      onPointerCancel={() => setDrawn(null)}
    >
      {canDraw && <title>Press to add a point, drag to move it; Delete removes it.</title>}
      {[0.25, 0.5, 0.75].map((part) => (
        <g key={part} stroke="var(--bark-2)">
          <line x1={part * WIDTH} x2={part * WIDTH} y1={0} y2={HEIGHT} />
          <line y1={part * HEIGHT} y2={part * HEIGHT} x1={0} x2={WIDTH} />
        </g>
      ))}
      <path d={curvePath(shown, WIDTH, HEIGHT)} fill="none" stroke="var(--tawny)" strokeWidth="2" />
      {points.map(([heard, sent], held) => (
        <circle
          key={held}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${held + 1}`}
          aria-valuenow={sent}
          aria-valuetext={`${heard} becomes ${sent}`}
          cx={xOf(heard)}
          cy={yOf(sent)}
          r="4"
          fill="var(--paper)"
          stroke="var(--tawny-2)"
          strokeWidth="1.5"
          className="cursor-grab"
          onKeyDown={(event) => onKey(event, held)}
          onDoubleClick={() => held > 0 && held < points.length - 1 && put(points.toSpliced(held, 1))}
        />
      ))}
      {place && (
        <g pointerEvents="none">
          <path d={`M${x} ${HEIGHT}V${y}H0`} fill="none" stroke="var(--dusk)" strokeDasharray="3 3" />
          <circle cx={x} cy={y} r="4.5" fill="var(--tawny-2)" />
        </g>
      )}
    </svg>
  );
}
