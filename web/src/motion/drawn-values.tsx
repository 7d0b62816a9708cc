/** Values in a row that are drawn with the pointer, or moved with the keys: arrows go from one to the next and move it. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { writePercent } from '@tawny-signal/core/typed/rate';
import { useReadOnly } from '../ui/read-only';

interface DrawnProps {
  label: string;
  /** 0–1 each. */
  values: readonly number[];
  /** What one of them is called: `Step`, `Point`. */
  called: string;
  /** Saves all of them. */
  save: (values: number[]) => Promise<unknown>;
}

const HEIGHT = 76;
const WIDTH = 286;

export function DrawnValues({ label, values, called, save }: DrawnProps) {
  const svg = useRef<SVGSVGElement>(null);
  const readOnly = useReadOnly();
  const [drawn, setDrawn] = useState<number[] | null>(null);
  const shown = drawn ?? values;
  const each = WIDTH / shown.length;

  function put(next: number[]): void {
    void save(next)
      .catch(() => undefined)
      .finally(() => setDrawn(null));
  }

  /** Each value that the pointer passes over is set to its height. */
  function draw(event: PointerEvent, from: readonly number[]): void {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    const at = Math.max(0, Math.min(from.length - 1, Math.floor(point.x / each)));
    const value = Math.max(0, Math.min(1, 1 - point.y / HEIGHT));
    setDrawn(from.with(at, Math.round(value * 100) / 100));
  }

  function onKey(event: KeyboardEvent, at: number): void {
    const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (across !== undefined) {
      const bars = svg.current!.querySelectorAll<SVGElement>('[role="slider"]');
      bars[Math.max(0, Math.min(bars.length - 1, at + across))]!.focus();
    } else if (up !== undefined && !readOnly) {
      const next = values[at]! + up * (event.shiftKey ? 0.1 : 0.01);
      put(values.with(at, Math.round(Math.max(0, Math.min(1, next)) * 100) / 100));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <svg
      ref={svg}
      viewBox={`0 -2 ${WIDTH} ${HEIGHT + 4}`}
      preserveAspectRatio="none"
      role="group"
      aria-label={label}
      className={`mb-1.5 h-20 w-full touch-none rounded border border-rule bg-paper ${readOnly ? '' : 'cursor-crosshair'}`}
      onPointerDown={(event) => {
        if (readOnly || event.button !== 0) return;
        svg.current!.setPointerCapture(event.pointerId);
        draw(event, values);
      }}
      onPointerMove={(event) => drawn && draw(event, drawn)}
      onPointerUp={() => drawn && put(drawn)}
      onPointerCancel={() => setDrawn(null)}
    >
      <title>Draw across the bars; arrows move one.</title>
      <line x1={0} x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke="var(--bark-2)" />
      {shown.map((value, at) => (
        <rect
          key={at}
          tabIndex={0}
          role="slider"
          aria-label={`${called} ${at + 1}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(value * 100)}
          aria-valuetext={writePercent(value)}
          x={at * each + 1}
          width={Math.max(1, each - 2)}
          y={Math.min(HEIGHT - 2, (1 - value) * HEIGHT)}
          height={Math.max(2, value * HEIGHT)}
          fill="var(--tawny)"
          className="focus-visible:fill-tawny-2 outline-none"
          onKeyDown={(event) => onKey(event, at)}
        />
      ))}
    </svg>
  );
}
