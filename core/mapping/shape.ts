/** Turns a heard value into the value that is sent. */
import { dice } from '../dice.js';
import type { Shape } from '../show/shape.js';
import { readFormula, type FormulaValues } from './formula.js';
import { NO_PARTS, type Heard } from './heard.js';
import type { Outcome } from './outcome.js';

type Bend = Exclude<Shape['curve'], 'table' | 'frequency' | 'formula'>;
export const BENDS: Readonly<Record<Bend, (x: number) => number>> = {
  straight: (x) => x,
  'slow-start': (x) => x * x,
  'fast-start': (x) => Math.sqrt(x),
  'slow-ends': (x) => x * x * (3 - 2 * x),
};

/** From one number to another. */
type Scale = (value: number) => number;

/** Interpolates between the points of a table. Beyond the ends the value stays that of the end. */
function fromTable(table: Shape['table'], heard: number): number {
  const after = table.findIndex(([x]) => x >= heard);
  if (after < 0) return table.at(-1)![1];
  const [x, y] = table[after]!;
  const before = table[after - 1];
  if (!before || x === heard) return y;
  return before[1] + ((heard - before[0]) / (x - before[0])) * (y - before[1]);
}

/**
 * Compiles the curve of a shape: clamps the value to `in`, applies the curve and scales it to `out`, or looks it up in the table. Steps and rounding
 * come later. @returns a function from the units of `shape.in` to those of `shape.out`
 */
export function compileCurve({ curve, table, in: [inFrom, inTo], out: [outFrom, outTo] }: Shape): Scale {
  if (curve === 'table' && table.length > 0) return (heard) => fromTable(table, heard);
  if (curve === 'frequency') return noteFrequency;
  const width = inTo - inFrom;
  const outWidth = outTo - outFrom;
  // The ends are returned exactly, without the rounding error of the sum.
  const straight: Scale = (heard) => {
    const place = (heard - inFrom) / width;
    if (place >= 1) return outTo;
    return place > 0 ? outFrom + place * outWidth : outFrom;
  };
  if (curve === 'straight' || curve === 'table' || curve === 'formula') return straight;
  const bend = BENDS[curve];
  return (heard) => {
    const place = (heard - inFrom) / width;
    if (place >= 1) return outTo;
    return place > 0 ? outFrom + bend(place) * outWidth : outFrom;
  };
}

/** The curve of a shape, for a single value. @see compileCurve */
export const curveValue = (shape: Shape, heard: number): number => compileCurve(shape)(heard);

/** A note's frequency in Hz: equal temperament, A4 (note 69) = 440 Hz (ISO 16). */
export const noteFrequency = (note: number): number => 440 * 2 ** ((note - 69) / 12);

const asItIs: Scale = (value) => value;

/** Compiles what follows the curve: offset, limits, steps and rounding, in the units of `shape.out`. */
export function compileFinish({ steps, round, out, offset, limits }: Shape): Scale {
  const width = out[1] - out[0];
  const stepped = steps > 0 && width !== 0;
  if (!stepped && !round && offset === 0 && !limits) return asItIs;
  return (value) => {
    let finished = value + offset;
    if (limits) finished = Math.max(limits[0], Math.min(limits[1], finished));
    if (stepped) {
      const step = Math.round(((finished - out[0]) / width) * (steps - 1)) / (steps - 1);
      finished = step === 1 ? out[1] : out[0] + step * width;
    }
    return round ? Math.round(finished) : finished;
  };
}

/** Applies offset, limits, steps and rounding to a single value. @see compileFinish */
export const finishValue = (shape: Shape, value: number): number => compileFinish(shape)(value);

export const shapeValue = (shape: Shape, heard: number): number =>
  finishValue(shape, curveValue(shape, heard));

/** A shape with its state, such as the last value that passed. */
export interface Shaper {
  /**
   * @param value to shape, as `from` says. @param beat beats since the tempo began
   * @returns the shaped value before offset, limits, steps and rounding; null if it does not pass, and then `why` is the reason
   */
  take(value: number, heard: Heard, beat: number): number | null;
  /** Why the last value did not pass. */
  readonly why: Outcome;
  /** Shapes the low end, for a control that is released. It always passes, and changes the state. */
  low(): number;
  /** Shapes the low end without changing the state. */
  lowEnd(): number;
  /** Applies offset, limits, steps and rounding to a value that `take` returned, or that a glide passes through. */
  finish(value: number): number;
  /** Whether `take` needs the beat. */
  readonly usesBeat: boolean;
  /** True if `take` depends on the value alone, and always passes it. */
  readonly stateless: boolean;
  /** The bank is on again: a control that has to be picked up waits for that. */
  resume(): void;
}

/** Hashes a text, so that each mapping has its own random numbers. */
export function seedOf(text: string, seed: number): number {
  let hash = (0x811c_9dc5 ^ seed) | 0;
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x0100_0193);
  return hash >>> 0;
}

/** Returns how far a dial was turned, up is positive (common practice: the three usual codings). @param value 0–127 */
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

/** A control counts as picked up within this part of its range. */
const NEAR = 1 / 60;

/** Blocks a control until it has reached or passed the current value. */
function createPickUp(span: number): { resume(): void; passes(value: number, was: number | null): boolean } {
  let waits = false;
  let before: number | null = null;
  return {
    resume() {
      waits = true;
      before = null;
    },
    passes(value, was) {
      if (!waits || was === null) return true;
      const passed = before !== null && before < was !== value < was;
      before = value;
      waits = !passed && Math.abs(value - was) > span * NEAR;
      return !waits;
    },
  };
}

/** A shape without state, as most are: thousands of them take little memory. */
function createPlainShaper(shape: Shape): Shaper {
  const take = compileCurve(shape);
  const low = (): number => take(shape.in[0]);
  return {
    why: 'fired',
    take,
    low,
    lowEnd: low,
    finish: compileFinish(shape),
    usesBeat: false,
    stateless: true,
    resume: nothing,
  };
}
const nothing = (): void => undefined;

export function createShaper(shape: Shape, seed: number): Shaper {
  const { each, curve, deadband, pickUp } = shape;
  if (each === 'value' && curve !== 'formula' && deadband === 0 && !pickUp) return createPlainShaper(shape);
  return createRememberingShaper(shape, seed);
}

function createRememberingShaper(shape: Shape, seed: number): Shaper {
  const { deadband, each, list, out, coding, pickUp } = shape;
  const [low, high] = [Math.min(...shape.in), Math.max(...shape.in)];
  const formula = shape.curve === 'formula' && shape.formula !== '' ? readFormula(shape.formula) : null;
  const evaluate = formula?.ok ? formula.value.evaluate : null;
  const curveOf = compileCurve(shape);
  const values: FormulaValues = { value: 0, number: 0, channel: 0, force: 0, was: 0, beat: 0 };
  const picked = pickUp ? createPickUp(high - low) : null;
  let dialAt = low;
  const roll = each === 'dice' ? dice(seed) : null;
  let passed: number | null = null;
  let turn = 0;
  let why: Outcome = 'fired';

  function refuse(reason: Outcome): null {
    why = reason;
    return null;
  }

  /** The value of each press, if it is not the heard one. */
  function next(): number {
    if (roll) return out[0] + roll() * (out[1] - out[0]);
    if (each === 'list' && list.length > 0) return list[turn++ % list.length]!;
    return out[1 - (turn++ % 2)]!;
  }

  function byFormula(value: number, heard: Heard, beat: number): number | null {
    values.value = value;
    values.number = heard.number;
    values.channel = heard.channel + 1;
    values.force = heard.value;
    values.beat = beat;
    const made = evaluate!(values);
    if (!Number.isFinite(made)) return refuse('noResult');
    values.was = made;
    return made;
  }

  function lowEnd(): number {
    const [value] = shape.in;
    if (!evaluate) return curveOf(value);
    const heard = { value, number: values.number, channel: values.channel - 1, parts: NO_PARTS };
    return byFormula(value, heard, values.beat) ?? 0;
  }

  return {
    get why() {
      return why;
    },
    take(value, heard, beat) {
      if (each === 'dial') {
        dialAt = Math.max(low, Math.min(high, dialAt + stepsOf(coding, value)));
        return curveOf(dialAt);
      }
      // The low end is the release of a button. Only presses count.
      if (each !== 'value') return value === shape.in[0] ? refuse('buttonUp') : next();
      if (picked && !picked.passes(value, passed)) return refuse('pickUp');
      if (deadband > 0 && passed !== null && Math.abs(value - passed) <= deadband) return refuse('deadband');
      passed = value;
      return evaluate ? byFormula(value, heard, beat) : curveOf(value);
    },
    low() {
      [passed] = shape.in;
      return lowEnd();
    },
    lowEnd,
    finish: compileFinish(shape),
    usesBeat: evaluate !== null,
    stateless: false,
    resume: () => picked?.resume(),
  };
}
