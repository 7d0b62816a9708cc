/** Computes the drawing of a shape: the heard value goes from left to right, the sent value upwards. */
import { readFormula } from '@tawny-signal/core/mapping/formula';
import { noteFrequency, shapeValue } from '@tawny-signal/core/mapping/shape';
import type { Shape } from '@tawny-signal/core/show/shape';

const STEPS = 24;
/** The number of points of the line. Steps and tables have edges in between. */
const FINE_STEPS = 120;

/** The ranges of heard and sent values in the drawing. */
export function curveEnds({ in: heard, out, curve, table, each, list, formula }: Shape): {
  x: [number, number];
  y: [number, number];
} {
  if (each === 'list' && list.length > 0) return { x: heard, y: [Math.min(...list), Math.max(...list)] };
  if (curve === 'formula' && each === 'value') return { x: heard, y: formulaEnds(heard, formula) };
  if (curve === 'frequency')
    return { x: heard, y: heard.map(noteFrequency).sort((a, b) => a - b) as [number, number] };
  if (curve !== 'table' || table.length < 2) return { x: heard, y: [Math.min(...out), Math.max(...out)] };
  // Within the range that is sent, so that a point that is drawn has room.
  const values = [...table.map(([, y]) => y), ...out];
  return { x: [table[0]![0], table.at(-1)![0]], y: [Math.min(...values), Math.max(...values)] };
}

/** Evaluates a formula for a value without earlier values. */
function formulaValue(text: string, value: number): number {
  const read = readFormula(text);
  if (!read.ok) return 0;
  const made = read.value.evaluate({ value, number: value, channel: 1, force: value, was: 0, beat: 0 });
  return Number.isFinite(made) ? made : 0;
}

function formulaEnds([from, to]: [number, number], text: string): [number, number] {
  const values = Array.from({ length: STEPS + 1 }, (_, at) =>
    formulaValue(text, from + ((to - from) * at) / STEPS),
  );
  return [Math.min(...values), Math.max(...values)];
}

const drawnValue = (shape: Shape, heard: number): number =>
  shape.curve === 'formula' && shape.each === 'value'
    ? formulaValue(shape.formula, heard)
    : shapeValue(shape, heard);

/** Returns the positions, 0–1, of a heard value and its shaped value within the ranges of the drawing. */
export function placeOf(shape: Shape, heard: number): { x: number; y: number } {
  const { x: span, y: levels } = curveEnds(shape);
  const height = levels[1] - levels[0];
  const x = Math.min(1, Math.max(0, (heard - span[0]) / (span[1] - span[0])));
  return { x, y: height === 0 ? 0.5 : (drawnValue(shape, heard) - levels[0]) / height };
}

/** Draws shapes that are no curve by the values that they give in turn; random values as a range. */
function turns(shape: Shape, width: number, height: number): string {
  if (shape.each === 'dice')
    return Array.from({ length: 9 }, (_, at) => {
      const x = ((at + 0.5) * width) / 9;
      const y = height * (0.5 + 0.45 * Math.sin(at * 7.3));
      return `M${x} ${y}h0.01`;
    }).join('');
  const values =
    shape.each === 'list' ? shape.list : [shape.out[1], shape.out[0], shape.out[1], shape.out[0]];
  const [low, high] = curveEnds(shape).y;
  const part = width / Math.max(1, values.length);
  return values
    .map((value, at) => {
      const y = (1 - (high === low ? 0.5 : (value - low) / (high - low))) * height;
      return `${at === 0 ? 'M' : 'L'}${(at * part).toFixed(1)} ${y.toFixed(1)}H${((at + 1) * part).toFixed(1)}`;
    })
    .join('');
}

export function curvePath(shape: Shape, width: number, height: number): string {
  if (shape.each !== 'value' && shape.each !== 'dial') return turns(shape, width, height);
  const [from, to] = curveEnds(shape).x;
  const steps = shape.steps > 0 || shape.curve === 'table' ? FINE_STEPS : STEPS;
  const points = Array.from({ length: steps + 1 }, (_, step) => {
    const { x, y } = placeOf(shape, from + ((to - from) * step) / steps);
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
      <path
        d={curvePath(shape, width, height)}
        fill="none"
        stroke="var(--tawny-2)"
        strokeWidth={shape.each === 'dice' ? 3 : 1.5}
        strokeLinecap="round"
      />
    </svg>
  );
}
