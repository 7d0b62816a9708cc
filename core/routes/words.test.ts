import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { channelTable } from './compiled.js';
import { readMoves, writeMoves } from './words.js';

/** What a typed text does to the sixteen channels, as people count them; 0 where a channel does not pass. */
function moved(text: string): number[] {
  const read = readMoves(text);
  if (!read.ok) throw new Error(read.reason);
  return [...channelTable(read.value)].map((channel) => channel + 1);
}

describe('channels as people type them', () => {
  test.each([
    ['any', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16]],
    ['1-8', [1, 2, 3, 4, 5, 6, 7, 8, 0, 0, 0, 0, 0, 0, 0, 0]],
    ['10 -> 2', [0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 0, 0]],
    ['1-4 -> 5-8', [5, 6, 7, 8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]],
    ['1-4→16, 10', [16, 16, 16, 16, 0, 0, 0, 0, 0, 10, 0, 0, 0, 0, 0, 0]],
    ['3 > 6', [0, 0, 6, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]],
  ])('“%s”', (text, channels) => expect(moved(text)).toEqual(channels));

  test.each([
    ['8-3', /backwards|lower end first/],
    ['17', /1 to 16/],
    ['0', /1 to 16/],
    ['10 -> ', /./],
    ['1-4 -> 5-6', /to one channel, or to as many/],
    ['1 -> 2 -> 3', /10 -> 2/],
    ['ten', /./],
  ])('“%s” is refused in words', (text, words) => {
    const read = readMoves(text);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.reason).toMatch(words);
  });

  test('are read back as they are written', () => {
    const span = fc
      .tuple(fc.nat(15), fc.nat(15))
      .map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]);
    const move = fc.tuple(span, fc.option(fc.nat(15))).map(([from, to]) => ({
      from,
      to: to === null ? null : ([to, to] as [number, number]),
    }));
    fc.assert(
      fc.property(fc.array(move, { minLength: 1, maxLength: 5 }), (moves) => {
        expect(readMoves(writeMoves(moves))).toEqual({ ok: true, value: moves });
      }),
    );
  });
});
