import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { noteName, parseNote, type MiddleC } from '../midi/words.js';
import {
  readChannels,
  readNotes,
  readNumbers,
  readPort,
  readScale,
  writeChannels,
  writeScale,
} from './range.js';

const said = (read: { ok: boolean; value?: unknown; reason?: string }): unknown =>
  read.ok ? read.value : read.reason;

test.each([
  ['10', [9, 9]],
  ['1-8', [0, 7]],
  ['1 to 8', [0, 7]],
  ['1–16', [0, 15]],
  ['any', 'any'],
  ['', 'any'],
  ['17', 'A channel is a number from 1 to 16, a range like 1-8, or any.'],
  ['0', 'A channel is a number from 1 to 16, a range like 1-8, or any.'],
  ['8-3', 'The range 8-3 runs backwards: write the lower end first.'],
  ['ten', 'A channel is a number from 1 to 16, a range like 1-8, or any.'],
])('channel “%s”', (text, expected) => {
  expect(said(readChannels(text))).toEqual(expected);
});

test.each([
  ['60', 4, [60, 60]],
  ['C4', 4, [60, 60]],
  ['C3', 3, [60, 60]],
  ['C5', 5, [60, 60]],
  ['c#3', 4, [49, 49]],
  ['Db3', 4, [49, 49]],
  ['C2-C3', 4, [36, 48]],
  ['36-51', 4, [36, 51]],
  ['C-1', 4, [0, 0]],
  ['any', 4, 'any'],
] as const)('note “%s” where the middle C is C%i', (text, middleC, expected) => {
  expect(said(readNotes(text, middleC))).toEqual(expected);
});

test.each(['128', 'H3', 'C11', '51-36', '-1'])('note “%s” is refused', (text) => {
  expect(readNotes(text, 4).ok).toBe(false);
});

// Common practice: middle C is note 60; programs call it C3, C4 or C5.
test('every note has a name that is read back, in each choice of middle C', () => {
  fc.assert(
    fc.property(fc.nat(127), fc.constantFrom<MiddleC>(3, 4, 5), (number, middleC) => {
      expect(parseNote(noteName(number, middleC), middleC)).toBe(number);
    }),
  );
  expect([noteName(60, 3), noteName(60, 4), noteName(60, 5)]).toEqual(['C3', 'C4', 'C5']);
});

describe('scales', () => {
  test.each([
    ['0-127', [0, 127]],
    ['1 to 0', [1, 0]],
    ['-1 – 1', [-1, 1]],
    ['0.45-0.95', [0.45, 0.95]],
    ['−5→5', [-5, 5]],
  ])('%s', (text, expected) => expect(said(readScale(text))).toEqual(expected));

  test.each(['', '5', '1-', 'low-high'])('“%s” is refused', (text) => expect(readScale(text).ok).toBe(false));

  test('are read back as they are written', () => {
    const end = fc.integer({ min: -99_999, max: 99_999 }).map((n) => n / 100);
    fc.assert(
      fc.property(fc.tuple(end, end), (scale) => expect(said(readScale(writeScale(scale)))).toEqual(scale)),
    );
  });
});

test('channels are read back as they are written', () => {
  const span = fc
    .tuple(fc.nat(15), fc.nat(15))
    .map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]);
  fc.assert(
    fc.property(span, (channels) => expect(said(readChannels(writeChannels(channels)))).toEqual(channels)),
  );
});

test('a port is from 1 to 65535', () => {
  expect(said(readPort('9000'))).toBe(9000);
  for (const text of ['70000', '0', '-1', '9000.5', 'osc'])
    expect(said(readPort(text))).toBe('A port is a number from 1 to 65535.');
});

test('a controller past 127 is refused by its own name', () => {
  expect(said(readNumbers('128', 'A controller'))).toBe(
    'A controller is a number from 0 to 127, a range like 20-27, or any.',
  );
});
