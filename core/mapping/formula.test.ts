import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readFormula, type FormulaValues } from './formula.js';

const VALUES: FormulaValues = { value: 64, number: 36, channel: 10, force: 100, was: 0.5, beat: 3 };

function result(text: string, values: Partial<FormulaValues> = {}): number {
  const read = readFormula(text);
  if (!read.ok) throw new Error(read.reason);
  return read.value.evaluate({ ...VALUES, ...values });
}

describe('a formula', () => {
  // Arithmetic, from memory.
  test.each([
    ['value / 127', 64 / 127],
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['2 ** 3 ** 2', 512],
    ['-value + 4', -60],
    ['value > 63 ? 1 : 0', 1],
    ['value > 63 && force < 50', 0],
    ['number % 12', 0],
    ['-1 % 12', 11],
    ['clamp(value, 0, 50)', 50],
    ['mix(10, 20, 0.25)', 12.5],
    ['max(number, min(force, 40))', 40],
    ['sin(beat * pi / 6)', 1],
    ['was * 2 + channel', 11],
    ['!0 + !5', 1],
    ['7 - 2', 5],
    ['+value', 64],
    ['3 < 3', 0],
    ['2 < 3', 1],
    ['3 <= 3', 1],
    ['4 <= 3', 0],
    ['3 > 3', 0],
    ['3 >= 3', 1],
    ['2 >= 3', 0],
    ['3 == 3', 1],
    ['3 == 4', 0],
    ['3 != 4', 1],
    ['3 != 3', 0],
    ['2 && 0', 0],
    ['0 && 2', 0],
    ['2 && 3', 1],
    ['0 || 0', 0],
    ['0 || 2', 1],
    ['2 || 0', 1],
    ['abs(-3) + ceil(1.2) + floor(1.8)', 6],
    ['round(1.5) + sqrt(9)', 5],
    ['cos(pi)', -1],
    ['0 ? 5 : 6', 6],
  ])('%s', (text, wanted) => expect(result(text)).toBeCloseTo(wanted, 12));

  test.each([
    ['valu / 127', 'There is no “valu”', 0],
    ['1 + loudness', 'There is no “loudness”', 4],
    ['1 + loudness', 'Names: value, number, channel, force, was, beat.', 4],
    ['abs(1, 2)', 'abs takes 1 value, not 2', 0],
    ['2 * abs()', 'abs takes 1 value, not 0', 4],
    ['value +', 'Expected expression after +', 7],
    ['clamp(value, 1)', 'clamp takes 3 values, not 2', 0],
    ['2 * shout(3)', 'There is no function “shout”', 4],
    ['value | 3', '“|” can’t be used here', 6],
    ['"a" + 1', 'numbers only', 0],
    ['value; number', 'Write one formula', 0],
    ['', 'Write a formula', 0],
  ])('“%s” is wrong, and it is said where', (text, words, at) => {
    const read = readFormula(text);
    expect(read).toMatchObject({ ok: false, at });
    expect(!read.ok && read.reason).toContain(words);
  });

  test.each([
    'value.constructor',
    'constructor',
    'this',
    '[1, 2]',
    'value = 3',
    'toString()',
    'value["constructor"]',
    '__proto__',
    'abs.constructor("return 1")()',
    '`x`',
  ])('can’t reach anything but its own names: %s', (text) => expect(readFormula(text).ok).toBe(false));

  test.each(['(', '-', '1+', 'abs(', '1?', '1**'])('of a million %j is refused before it is read', (part) => {
    expect(readFormula(part.repeat(1e6))).toEqual({
      ok: false,
      reason: 'A formula has at most 300 characters.',
      at: 300,
    });
  });

  test('whatever is written is read or refused, and never runs away', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), (text) => {
        const read = readFormula(text);
        if (read.ok) expect(typeof read.value.evaluate(VALUES)).toBe('number');
        else expect(read.at).toBeLessThanOrEqual(text.length);
      }),
    );
  });
});
