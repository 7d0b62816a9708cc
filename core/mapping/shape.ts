/** How a heard value becomes the value that is sent. */
import type { Shape } from '../show/shape.js';

const CURVES: Record<Exclude<Shape['curve'], 'table'>, (x: number) => number> = {
  straight: (x) => x,
  'slow-start': (x) => x * x,
  'fast-start': (x) => Math.sqrt(x),
  'slow-ends': (x) => x * x * (3 - 2 * x),
};

/** Straight between the points of a table; beyond its ends the value of the end. */
function fromTable(table: Shape['table'], heard: number): number {
  const after = table.findIndex(([x]) => x >= heard);
  if (after < 0) return table.at(-1)![1];
  const [x, y] = table[after]!;
  const before = table[after - 1];
  if (!before || x === heard) return y;
  return before[1] + ((heard - before[0]) / (x - before[0])) * (y - before[1]);
}

/**
 * The heard value's place between the ends of `in` (kept within them), bent by the curve, laid between the ends of `out`; or what the
 * table makes of it. Without steps and rounding.
 * @param heard in the units of `shape.in`. @returns in the units of `shape.out`
 */
export function curveValue(shape: Shape, heard: number): number {
  const { curve, table } = shape;
  if (curve === 'table' && table.length > 0) return fromTable(table, heard);
  const [inFrom, inTo] = shape.in;
  const [outFrom, outTo] = shape.out;
  const place = Math.min(1, Math.max(0, (heard - inFrom) / (inTo - inFrom)));
  // The ends are given back exactly, without a rounding error of the sum.
  if (place === 1) return outTo;
  return outFrom + (curve === 'table' ? place : CURVES[curve](place)) * (outTo - outFrom);
}

/** In steps, and in whole numbers, as is wished. @param value in the units of `shape.out` */
export function finishValue({ steps, round, out }: Shape, value: number): number {
  let finished = value;
  const width = out[1] - out[0];
  if (steps > 0 && width !== 0) {
    const step = Math.round(((value - out[0]) / width) * (steps - 1)) / (steps - 1);
    finished = step === 1 ? out[1] : out[0] + step * width;
  }
  return round ? Math.round(finished) : finished;
}

export const shapeValue = (shape: Shape, heard: number): number =>
  finishValue(shape, curveValue(shape, heard));

/** A shape at work: it remembers what passed last. */
export interface Shaper {
  /** @returns what is wished, before steps and rounding; null where the value does not pass */
  take(heard: number): number | null;
  /** What the low end becomes, as when what was held is let go: it always passes. */
  low(): number;
}

/** Numbers 0–1, always the same for the same seed (mulberry32, public domain). */
function dice(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** A number for a text, so that each mapping throws dice of its own. */
export function seedOf(text: string, seed: number): number {
  let hash = (0x811c_9dc5 ^ seed) | 0;
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x0100_0193);
  return hash >>> 0;
}

/** How far a dial was turned: up is positive (common practice, the three usual codings). @param value 0–127 */
export function stepsOf(coding: Shape['coding'], value: number): number {
  switch (coding) {
    case 'two':
      return value < 64 ? value : value - 128;
    case 'offset':
      return value - 64;
    case 'sign':
      return value < 64 ? value : 64 - value;
  }
}

export function createShaper(shape: Shape, seed: number): Shaper {
  const { deadband, each, list, out, coding } = shape;
  const [low, high] = [Math.min(...shape.in), Math.max(...shape.in)];
  let dialAt = low;
  const roll = each === 'dice' ? dice(seed) : null;
  let passed: number | null = null;
  let turn = 0;

  /** What each press makes where that is not its own value. */
  function next(): number {
    if (roll) return out[0] + roll() * (out[1] - out[0]);
    if (each === 'list' && list.length > 0) return list[turn++ % list.length]!;
    return out[1 - (turn++ % 2)]!;
  }

  return {
    take(heard) {
      if (each === 'dial') {
        dialAt = Math.max(low, Math.min(high, dialAt + stepsOf(coding, heard)));
        return curveValue(shape, dialAt);
      }
      if (each !== 'value') {
        // The low end is a button's release: only presses count.
        return heard === shape.in[0] ? null : next();
      }
      if (deadband > 0 && passed !== null && Math.abs(heard - passed) <= deadband) return null;
      passed = heard;
      return curveValue(shape, heard);
    },
    low() {
      [passed] = shape.in;
      return curveValue(shape, passed);
    },
  };
}
