/** A shape drawn: what comes in along the bottom, what goes out upwards. */
import { shapeValue } from '@tawny-signal/core/mapping/shape';
import type { Shape } from '@tawny-signal/core/show/mapping';

const STEPS = 24;

/** Places 0–1 of a heard value and of what it is shaped into, between the ends of both scales. */
export function placeOf(shape: Shape, heard: number): { x: number; y: number } {
  const [inFrom, inTo] = shape.in;
  const low = Math.min(...shape.out);
  const height = Math.max(...shape.out) - low;
  const x = Math.min(1, Math.max(0, (heard - inFrom) / (inTo - inFrom)));
  return { x, y: height === 0 ? 0.5 : (shapeValue(shape, heard) - low) / height };
}

export function curvePath(shape: Shape, width: number, height: number): string {
  const [from, to] = shape.in;
  const points = Array.from({ length: STEPS + 1 }, (_, step) => {
    const { x, y } = placeOf(shape, from + ((to - from) * step) / STEPS);
    return `${(x * width).toFixed(1)} ${((1 - y) * height).toFixed(1)}`;
  });
  return `M${points.join('L')}`;
}

export function Curve({ shape, width, height }: { shape: Shape; width: number; height: number }) {
  return (
    <svg
      width={width}
      height={height}
      viewBox={`-1 -2 ${width + 2} ${height + 4}`}
      aria-hidden
      className="shrink-0"
    >
      <path d={curvePath(shape, width, height)} fill="none" stroke="var(--tawny-2)" strokeWidth="1.5" />
    </svg>
  );
}
