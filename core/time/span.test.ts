/** Spans in beats follow the tempo. A beat at 120 a minute is 500 ms. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { beatSpanSchema, endBeat, endOf, inMs, lengthAt, paceOf } from './span.js';
import { beatAt, countedOn, songBeatAt, timeOf, type Tempo } from './tempo.js';

const AT_120: Tempo = { bpm: 120, since: 0 };
const bpms = fc.double({ min: 20, max: 400, noNaN: true });

describe('the end of a span', () => {
  test.each<[string, number, 'beat' | 'bar' | null, number, number]>([
    ['two beats from the middle of one', 2, null, 250, 2.5],
    ['the next beat', 0, 'beat', 250, 1],
    ['the next beat, on one', 0, 'beat', 500, 1],
    ['the next bar', 0, 'bar', 600, 4],
    ['the next bar, on one', 0, 'bar', 4000, 8],
    ['two beats, on the beat, a little late', 2, 'beat', 520, 3],
    ['two beats, on the beat, a little early', 2, 'beat', 480, 3],
    ['a bar, on the bar', 4, 'bar', 100, 4],
  ])('%s', (_, beats, on, now, wanted) => {
    expect(endBeat({ beats, on }, AT_120, now)).toBeCloseTo(wanted, 9);
  });

  test('bars are counted from where the tempo says that one begins', () => {
    const waltz: Tempo = { ...AT_120, bar: { at: 2, beats: 3 } };
    expect(endBeat({ beats: 0, on: 'bar' }, waltz, 1100)).toBe(5);
    expect(endBeat({ beats: 3, on: 'bar' }, waltz, 1100)).toBe(5);
  });

  test('is never before now, and what ends on a beat ends on a whole one', () => {
    const spans = fc.record({
      beats: fc.oneof(fc.constant(0), fc.double({ min: 1 / 16, max: 1024, noNaN: true })),
      on: fc.constantFrom('beat' as const, 'bar' as const, null),
    });
    fc.assert(
      fc.property(spans, bpms, fc.nat(1e7), (span, bpm, now) => {
        const tempo = { bpm, since: 0 };
        const end = endBeat(span, tempo, now);
        expect(end).toBeGreaterThanOrEqual(beatAt(tempo, now) - 1e-6);
        if (span.on !== null) expect(end % (span.on === 'bar' ? 4 : 1)).toBe(0);
      }),
    );
  });

  test('in ms takes no notice of the tempo', () => {
    expect(endOf(inMs(700), { bpm: 33, since: 5 }, 100)).toBe(800);
    expect(lengthAt(inMs(700), 33)).toBe(700);
    expect(lengthAt({ ms: 0, beats: { beats: 2, on: null } }, 60)).toBe(2000);
  });
});

test.each([0.01, -1, 2000])('%f beats are refused', (beats) => {
  expect(beatSpanSchema.safeParse({ beats }).success).toBe(false);
});

describe('the way of a span', () => {
  // The figures of the trade: 63, 118 and 190 beats a minute, two beats each.
  test.each([63, 118, 190])('at %i beats a minute takes its beats', (bpm) => {
    const tempo = { bpm, since: 0 };
    const pace = paceOf({ ms: 0, beats: { beats: 2, on: null } }, 1000, () => tempo);
    expect(pace.endsAt()).toBeCloseTo(1000 + 120_000 / bpm, 6);
    expect(pace.part(1000 + 60_000 / bpm)).toBeCloseTo(0.5, 9);
    expect(pace.part(pace.endsAt())).toBe(1);
  });

  test('ends on its beat, whatever the tempo does meanwhile', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(bpms, fc.integer({ min: 1, max: 400 })), { maxLength: 20 }),
        (changes) => {
          let tempo: Tempo = { bpm: 100, since: 0 };
          const pace = paceOf({ ms: 0, beats: { beats: 8, on: 'beat' } }, 0, () => tempo);
          let now = 0;
          let last = 0;
          for (const [bpm, ms] of changes) {
            if (now + ms >= pace.endsAt()) break;
            now += ms;
            expect(pace.part(now)).toBeGreaterThanOrEqual(last);
            last = pace.part(now);
            tempo = { bpm, since: now - (beatAt(tempo, now) * 60_000) / bpm };
          }
          expect(beatAt(tempo, pace.endsAt())).toBeCloseTo(8, 6);
          expect(pace.part(pace.endsAt())).toBe(1);
        },
      ),
    );
  });
});

test('a tempo that counts anew is counted on: less than a beat is left between, and its bars stay its own', () => {
  fc.assert(
    fc.property(bpms, bpms, fc.nat(1e7), fc.nat(1e7), (one, other, since, now) => {
      const from = { bpm: one, since: 0 };
      const anew = { bpm: other, since };
      const on = countedOn(anew, from, now);
      expect(Math.abs(beatAt(on, now) - beatAt(from, now))).toBeLessThanOrEqual(0.5 + 1e-6);
      expect(songBeatAt(on, now)).toBeCloseTo(beatAt(anew, now), 4);
      expect(timeOf(on, on.bar?.at ?? 0)).toBeCloseTo(since, 4);
    }),
  );
});
