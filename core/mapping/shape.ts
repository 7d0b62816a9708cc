/** How a heard value becomes the value that is sent. */
import type { Shape } from '../show/mapping.js';

const CURVES: Record<Shape['curve'], (x: number) => number> = {
  straight: (x) => x,
  'slow-start': (x) => x * x,
  'fast-start': (x) => Math.sqrt(x),
};

/**
 * The heard value's place between the ends of `in` (kept within them), bent by the curve, laid between the ends of `out`.
 * @param heard in the units of `shape.in`. @returns in the units of `shape.out`.
 */
export function shapeValue(shape: Shape, heard: number): number {
  const [inFrom, inTo] = shape.in;
  const [outFrom, outTo] = shape.out;
  const place = Math.min(1, Math.max(0, (heard - inFrom) / (inTo - inFrom)));
  // The ends are given back exactly, without a rounding error of the sum.
  if (place === 1) return outTo;
  return outFrom + CURVES[shape.curve](place) * (outTo - outFrom);
}
