/**
 * Formulas that people write. The expression is parsed by jsep, which only parses: nothing of it is run as a program. What it may say is
 * the short list below, and each is made into a closure once, so that it costs little when it is used.
 */
import jsep, { type Expression } from 'jsep';
import type { Typed } from '../typed/range.js';

/** The values that a formula can use. */
export const FORMULA_NAMES = {
  value: 'what was heard: the force, value or number, as From says',
  number: 'the number of the note, controller or slot',
  channel: 'the channel, 1 to 16',
  force: 'the message’s own value, whatever From says',
  was: 'what the formula made the last time; 0 at first',
  beat: 'beats since the tempo began',
} as const;
export type FormulaName = keyof typeof FORMULA_NAMES;
export type FormulaValues = Record<FormulaName, number>;

type Evaluate = (values: FormulaValues) => number;

const FUNCTIONS: Readonly<Record<string, { takes: number; run: (...args: number[]) => number }>> = {
  abs: { takes: 1, run: Math.abs },
  ceil: { takes: 1, run: Math.ceil },
  clamp: { takes: 3, run: (x, low, high) => Math.max(low!, Math.min(high!, x!)) },
  cos: { takes: 1, run: Math.cos },
  floor: { takes: 1, run: Math.floor },
  max: { takes: 2, run: Math.max },
  min: { takes: 2, run: Math.min },
  mix: { takes: 3, run: (from, to, part) => from! + (to! - from!) * part! },
  round: { takes: 1, run: Math.round },
  sin: { takes: 1, run: Math.sin },
  sqrt: { takes: 1, run: Math.sqrt },
};
export const FORMULA_FUNCTIONS = Object.keys(FUNCTIONS);
const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI };

const BINARY: Readonly<Record<string, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  // The remainder has the sign of the divisor, so that a wave continues below 0.
  '%': (a, b) => ((a % b) + b) % b,
  '**': (a, b) => a ** b,
  '<': (a, b) => Number(a < b),
  '<=': (a, b) => Number(a <= b),
  '>': (a, b) => Number(a > b),
  '>=': (a, b) => Number(a >= b),
  '==': (a, b) => Number(a === b),
  '!=': (a, b) => Number(a !== b),
  '&&': (a, b) => Number(a !== 0 && b !== 0),
  '||': (a, b) => Number(a !== 0 || b !== 0),
};
const UNARY: Readonly<Record<string, (a: number) => number>> = {
  '-': (a) => -a,
  '+': (a) => a,
  '!': (a) => Number(a === 0),
};

/** An error, with its place as an index into the text. */
class FormulaError extends Error {
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(message);
  }
}

export interface Formula {
  /** @returns NaN or an infinity where there is no result, as of 1 / 0 */
  evaluate: Evaluate;
}
export type ReadFormula = Typed<Formula> & { at?: number };

const has = (table: object, key: string): boolean => Object.hasOwn(table, key);

/** Returns the index of a whole word in a text. */
const placeOf = (text: string, word: string): number =>
  Math.max(0, text.search(new RegExp(`(?<![\\w.])${word.replace(/[^\w]/g, '\\$&')}(?![\\w])`)));

function compile(text: string, node: Expression): Evaluate {
  const fail = (message: string, word = ''): never => {
    throw new FormulaError(message, word === '' ? 0 : placeOf(text, word));
  };
  const known = (): string => `Names: ${Object.keys(FORMULA_NAMES).join(', ')}.`;

  function call(callee: Expression, args: readonly Expression[]): Evaluate {
    const name = callee.type === 'Identifier' ? String(callee.name) : '';
    if (!has(FUNCTIONS, name))
      return fail(`There is no function “${name}”. Functions: ${FORMULA_FUNCTIONS.join(', ')}.`, name);
    const { takes, run } = FUNCTIONS[name]!;
    if (args.length !== takes)
      return fail(`${name} takes ${takes} ${takes === 1 ? 'value' : 'values'}, not ${args.length}.`, name);
    const [a, b, c] = args.map(build);
    if (takes === 1) return (values) => run(a!(values));
    if (takes === 2) return (values) => run(a!(values), b!(values));
    return (values) => run(a!(values), b!(values), c!(values));
  }

  function build(part: Expression): Evaluate {
    switch (part.type) {
      case 'Literal': {
        const { value } = part;
        return typeof value === 'number'
          ? () => value
          : fail(`Formulas work with numbers only.`, String(part.raw));
      }
      case 'Identifier': {
        const name = String(part.name);
        if (has(CONSTANTS, name)) return () => CONSTANTS[name]!;
        if (!has(FORMULA_NAMES, name)) return fail(`There is no “${name}”. ${known()}`, name);
        return (values) => values[name as FormulaName];
      }
      case 'UnaryExpression': {
        const operator = String(part.operator);
        const argument = build(part.argument as Expression);
        if (!has(UNARY, operator)) return fail(`“${operator}” can’t be used here.`, operator);
        const run = UNARY[operator]!;
        return (values) => run(argument(values));
      }
      case 'BinaryExpression':
      case 'LogicalExpression': {
        const operator = String(part.operator);
        if (!has(BINARY, operator))
          return fail(`“${operator}” can’t be used here. A power is written **.`, operator);
        const run = BINARY[operator]!;
        const left = build(part.left as Expression);
        const right = build(part.right as Expression);
        return (values) => run(left(values), right(values));
      }
      case 'ConditionalExpression': {
        const test = build(part.test as Expression);
        const yes = build(part.consequent as Expression);
        const no = build(part.alternate as Expression);
        return (values) => (test(values) !== 0 ? yes(values) : no(values));
      }
      case 'CallExpression':
        return call(part.callee as Expression, part.arguments as Expression[]);
      default:
        return fail('Write one formula, like value / 127 or sin(beat * pi).');
    }
  }
  return build(node);
}

/** The most characters of a formula. */
export const LONGEST_FORMULA = 300;
export const FORMULA_TOO_LONG = `A formula has at most ${LONGEST_FORMULA} characters.`;

/** Reads a formula. An error has its place, `at`, an index into the text. */
export function readFormula(text: string): ReadFormula {
  if (text.length > LONGEST_FORMULA) return { ok: false, reason: FORMULA_TOO_LONG, at: LONGEST_FORMULA };
  if (text.trim() === '') return { ok: false, reason: 'Write a formula, like value / 127.', at: 0 };
  try {
    const evaluate = compile(text, jsep(text));
    return { ok: true, value: { evaluate } };
  } catch (error) {
    const at = error instanceof FormulaError ? error.at : Number((error as { index?: number }).index ?? 0);
    const words =
      error instanceof FormulaError
        ? error.message
        : String((error as { description?: string }).description ?? 'This can’t be read').replace(
            /\.?$/,
            '.',
          );
    const place = Math.min(at, text.length);
    return { ok: false, reason: `At “${text.slice(place, place + 12) || 'the end'}”: ${words}`, at: place };
  }
}
