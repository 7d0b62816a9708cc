/** The ways from one value to another. Each takes 0–1 and gives 0 at 0 and 1 at 1. */
import { z } from 'zod';
import { BENDS } from '../mapping/shape.js';
import { BENDS_NAMES } from '../show/fields.js';

export const CURVE_NAMES = [
  ...BENDS_NAMES,
  /** Falls by the same part in the same time, by 60 dB in all: as a string or a room dies away. */
  'natural',
  /** A cubic Bézier curve (CSS Easing Functions Level 1, section 2.2). */
  'bezier',
] as const;
export type CurveName = (typeof CURVE_NAMES)[number];

const BEZIER = 'A Bézier curve is four numbers, the first and third from 0 to 1, like 0.4, 0, 0.2, 1.';
const x = z.number(BEZIER).min(0, BEZIER).max(1, BEZIER);
const y = z.number(BEZIER).min(-2, BEZIER).max(3, BEZIER);

export const curveFields = {
  curve: z.enum(CURVE_NAMES).default('straight'),
  /** For the curve `bezier`: x1, y1, x2, y2. */
  bezier: z.tuple([x, y, x, y]).default([0.4, 0, 0.2, 1]),
};
export type Bezier = [x1: number, y1: number, x2: number, y2: number];
export type Curve = (part: number) => number;

/** What is left after 60 dB. */
const LEFT = 0.001;

export function curveOf({ curve, bezier }: { curve: CurveName; bezier: Bezier }): Curve {
  if (curve === 'bezier') return cubicBezier(...bezier);
  if (curve === 'natural') return (part) => (part >= 1 ? 1 : 1 - LEFT ** part);
  return BENDS[curve];
}

const NEAR = 1e-9;
const MOST_HALVINGS = 60;

/** The curve from (0, 0) to (1, 1) with the control points (x1, y1) and (x2, y2) (CSS Easing Functions Level 1, section 2.2). */
export function cubicBezier(x1: number, y1: number, x2: number, y2: number): Curve {
  const at = (a: number, b: number, t: number): number =>
    3 * a * t * (1 - t) ** 2 + 3 * b * t ** 2 * (1 - t) + t ** 3;
  return (part) => {
    if (part <= 0) return 0;
    if (part >= 1) return 1;
    // x rises with t, so that halving always finds it.
    let low = 0;
    let high = 1;
    let t = part;
    for (let n = 0; n < MOST_HALVINGS && high - low > NEAR; n++) {
      if (at(x1, x2, t) < part) low = t;
      else high = t;
      t = (low + high) / 2;
    }
    return at(y1, y2, t);
  };
}
