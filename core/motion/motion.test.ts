/** What motions are made of, against formulas and independent packages. */
import { describe, expect, test } from '@jest/globals';
import { get as scaleOf } from '@tonaljs/scale';
import bezierEasing from 'bezier-easing';
import fc from 'fast-check';
import { rollAt } from '../dice.js';
import { cubicBezier, curveOf, CURVE_NAMES } from './curves.js';
import { MAKE_KINDS, MAKES, makeSchema, startMake } from './makes.js';
import { indexAt, valuesOf } from './makes/table.js';
import { waveAt } from './makes/wave.js';
import { notesOf, SCALES, scaleSchema } from './scale.js';
import { compileMotionShape, motionShapeSchema } from './shaping.js';

const part = fc.double({ min: 0, max: 1, noNaN: true });

describe('curves', () => {
  test('of Bézier are those of an independent package (CSS Easing Functions Level 1)', () => {
    // In thousandths: the package has no answer where a number is too small to be squared.
    const thousandths = (min: number, max: number) => fc.integer({ min, max }).map((value) => value / 1000);
    const [x, y] = [thousandths(0, 1000), thousandths(-1000, 2000)];
    fc.assert(
      fc.property(x, y, x, y, x, (x1, y1, x2, y2, at) => {
        const theirs = bezierEasing(x1, y1, x2, y2);
        const ours = cubicBezier(x1, y1, x2, y2);
        // Where the curve is upright in x, both find a place near it.
        const near = [at - 1e-5, at, at + 1e-5].map((one) => theirs(Math.max(0, Math.min(1, one))));
        expect(ours(at)).toBeGreaterThan(Math.min(...near) - 2e-3);
        expect(ours(at)).toBeLessThan(Math.max(...near) + 2e-3);
      }),
      { numRuns: 2000 },
    );
  });

  // The values of “ease” (0.25, 0.1, 0.25, 1) at a half, as in the examples of the specification's graph: from memory.
  test('of CSS “ease” is 0.8024 at a half', () => {
    expect(cubicBezier(0.25, 0.1, 0.25, 1)(0.5)).toBeCloseTo(0.8024, 4);
  });

  test.each(CURVE_NAMES)('%s goes from 0 to 1 and never back', (curve) => {
    const of = curveOf({ curve, bezier: [0.4, 0, 0.2, 1] });
    expect(of(0)).toBe(0);
    expect(of(1)).toBe(1);
    fc.assert(
      fc.property(part, part, (a, b) =>
        expect(of(Math.max(a, b))).toBeGreaterThanOrEqual(of(Math.min(a, b)) - 1e-6),
      ),
    );
  });

  test('natural falls by 60 dB, by the same part in the same time', () => {
    const fall = curveOf({ curve: 'natural', bezier: [0, 0, 1, 1] });
    const left = (at: number): number => 1 - fall(at);
    expect(20 * Math.log10(left(0.5))).toBeCloseTo(-30, 6);
    expect(left(0.3) / left(0.1)).toBeCloseTo(left(0.8) / left(0.6), 6);
  });
});

describe('waves', () => {
  test('are as their formulas at any place', () => {
    fc.assert(
      fc.property(part, fc.double({ min: 0.01, max: 0.99, noNaN: true }), (at, width) => {
        const of = (form: Parameters<typeof waveAt>[0], points: number[] = []): number =>
          waveAt(form, width, points, at);
        expect(of('sine')).toBeCloseTo((1 + Math.sin(2 * Math.PI * at)) / 2, 12);
        expect(of('rampUp') + of('rampDown')).toBeCloseTo(1, 12);
        expect(of('square')).toBe(at < width ? 1 : 0);
        expect(of('triangle')).toBeCloseTo(1 - Math.max((width - at) / width, (at - width) / (1 - width)), 9);
        // A drawn triangle is one.
        expect(waveAt('drawn', 0, [0, 1], at)).toBeCloseTo(1 - Math.abs(1 - 2 * at), 9);
      }),
    );
  });
});

describe('scales', () => {
  test.each(SCALES.map(({ name, notes }) => [name, notes] as const))(
    '%s has the notes that an independent package names',
    (name, notes) => {
      const CHROMAS: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
      const chroma = ([letter, ...signs]: string): number =>
        (CHROMAS[letter!]! + signs.reduce((sum, sign) => sum + (sign === '#' ? 1 : -1), 0) + 12) % 12;
      const theirs = scaleOf(`C ${name}`).notes.map(chroma);
      expect([...notes]).toEqual([...theirs].sort((a, b) => a - b));
    },
  );

  test('D minor from D4 to D5', () => {
    const minor = SCALES.find(({ name }) => name === 'minor')!;
    expect(notesOf({ notes: minor.notes, root: 2, low: 62, high: 74 })).toEqual([
      62, 64, 65, 67, 69, 70, 72, 74,
    ]);
  });

  test.each([
    [{ notes: [], root: 0, low: 0, high: 127 }, 'Choose at least one note of the scale.'],
    [
      { notes: [0], root: 0, low: 61, high: 71 },
      'No note of the scale is in this range. Make the range larger.',
    ],
    [{ notes: [0], root: 0, low: 80, high: 60 }, 'Write the lower note first.'],
  ])('%j is refused in words', (scale, words) => {
    expect(scaleSchema.safeParse(scale).error?.issues[0]?.message).toBe(words);
  });

  test('spread the whole way over the notes, both ends included', () => {
    const shape = motionShapeSchema.parse({ scale: { notes: [0, 4, 7], root: 0, low: 60, high: 72 } });
    const of = compileMotionShape(shape);
    const notes = [0, 0.24, 0.26, 0.51, 0.76, 1].map((value) => of(value, { amount: 1, offset: 0 }));
    expect(notes).toEqual([60, 60, 64, 67, 72, 72]);
  });
});

describe('tables', () => {
  const table = (more: object): Parameters<typeof valuesOf>[0] =>
    makeSchema.parse({ kind: 'table', values: [10, null, 30, 20], ...more }) as never;

  test('have their smallest and largest value at both ends, or fixed limits', () => {
    expect(valuesOf(table({}))).toEqual([0, 1, 0.5]);
    expect(valuesOf(table({ missing: 'held' }))).toEqual([0, 0, 1, 0.5]);
    expect(valuesOf(table({ limits: [0, 40] }))).toEqual([0.25, 0.75, 0.5]);
    expect(valuesOf(table({ values: [5, 5] }))).toEqual([0.5, 0.5]);
    expect(valuesOf(table({ values: [null] }))).toEqual([]);
  });

  test('go to and fro without saying an end twice', () => {
    const walk = Array.from({ length: 9 }, (_, at) => indexAt({ order: 'toAndFro', seed: 1 }, 4, at - 1));
    expect(walk).toEqual([1, 0, 1, 2, 3, 2, 1, 0, 1]);
  });
});

test('a seeded row is evenly spread, and each place is by itself', () => {
  const counts = new Array<number>(10).fill(0);
  for (let at = 0; at < 10_000; at++) counts[Math.floor(rollAt(42, at) * 10)]!++;
  for (const count of counts) expect(Math.abs(count - 1000)).toBeLessThan(120);
  expect(rollAt(42, 5000)).toBe(rollAt(42, 5000));
  expect(rollAt(43, 5000)).not.toBe(rollAt(42, 5000));
});

describe.each(MAKE_KINDS)('%s', (kind) => {
  test('starts with what its schema takes, and says what it is', () => {
    const make = startMake(kind);
    expect(make.kind).toBe(kind);
    expect(MAKES[kind].title(make)).toMatch(/\w/);
  });
});

test.each([
  [{ kind: 'envelope', attack: { ms: -1 } }, 'A stage takes 0 to 600 s.'],
  [{ kind: 'steps', steps: [] }, 'Write at least one step.'],
  [{ kind: 'steps', steps: [{ value: 2 }] }, 'A step is 0 to 100 %.'],
  [{ kind: 'wave', points: [1] }, 'Draw at least two points.'],
  [{ kind: 'table', values: Array.from({ length: 20_001 }, () => 0) }, 'A table has at most 20000 values.'],
  [{ kind: 'table', values: [], stride: 0 }, 'It goes on by 1/16 to 16 values, or backward by -1/16 to -16.'],
])('%j is refused in words', (make, words) => {
  expect(makeSchema.safeParse(make).error?.issues[0]?.message).toBe(words);
});
