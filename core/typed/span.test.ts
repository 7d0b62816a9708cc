import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Span } from '../time/span.js';
import { readSpan, spanWords } from './span.js';

const read = (text: string, barBeats = 4): Span | string => {
  const found = readSpan(text, 's', 60_000, barBeats);
  return found.ok ? found.value : found.reason;
};
const beats = (count: number, on: 'beat' | 'bar' | null = null): Span => ({
  ms: 0,
  beats: { beats: count, on },
});

describe('a span as people type it', () => {
  test.each<[string, Span]>([
    ['3', { ms: 3000, beats: null }],
    ['250 ms', { ms: 250, beats: null }],
    ['2 beats', beats(2)],
    ['1 beat', beats(1)],
    ['1/2 beat', beats(0.5)],
    ['0,5 Beats', beats(0.5)],
    ['1 bar', beats(4)],
    ['next beat', beats(0, 'beat')],
    ['the next bar', beats(0, 'bar')],
    ['2 beats on the beat', beats(2, 'beat')],
    ['2 bars on the bar', beats(8, 'bar')],
  ])('%s', (text, wanted) => expect(read(text)).toEqual(wanted));

  test('a bar has the beats of the show', () => expect(read('2 bars', 3)).toEqual(beats(6)));

  test.each([
    'beats',
    '0 beats',
    '1/0 beat',
    '1/32 beat',
    '2000 beats',
    'two beats',
    '2 beats after',
    'next 2 beats',
  ])('%s is refused, and says what may be written', (text) =>
    expect(read(text)).toMatch(/^Write beats like 2 beats/),
  );

  test('is read as it is written', () => {
    const counts = fc.integer({ min: 1, max: 4096 }).map((sixteenths) => sixteenths / 16);
    fc.assert(
      fc.property(counts, fc.constantFrom(null, 'beat' as const, 'bar' as const), (count, on) => {
        expect(read(spanWords(beats(count, on)))).toEqual(beats(count, on));
      }),
    );
    for (const on of ['beat', 'bar'] as const) expect(read(spanWords(beats(0, on)))).toEqual(beats(0, on));
  });
});
