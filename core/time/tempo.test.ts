import { describe, expect, test } from '@jest/globals';
import { beatAt, createTapper, timeOf } from './tempo.js';

describe('the tempo', () => {
  // MIDI 1.0: at 120 beats a minute a beat is 500 ms, and a clock, a 24th of it, 20.833 ms.
  test('at 120 beats a minute a beat is 500 ms, its 24th part 20.833 ms', () => {
    const tempo = { bpm: 120, since: 1000 };
    expect(beatAt(tempo, 2000)).toBe(2);
    expect(timeOf(tempo, 1 / 24) - 1000).toBeCloseTo(20.833, 3);
    expect(timeOf(tempo, beatAt(tempo, 98_765))).toBeCloseTo(98_765, 6);
  });

  test('is tapped: the first tap says nothing, the second the tempo, more of them its mean', () => {
    const tapper = createTapper();
    expect(tapper.tap(0)).toBeNull();
    expect(tapper.tap(500)).toEqual({ bpm: 120, since: 500 });
    expect(tapper.tap(1010)?.bpm).toBe(118.8);
    expect(tapper.tap(1500)).toEqual({ bpm: 120, since: 1500 });
  });

  test('a tap after a long pause begins anew, and a tempo stays within its limits', () => {
    const tapper = createTapper();
    tapper.tap(0);
    tapper.tap(500);
    expect(tapper.tap(10_000)).toBeNull();
    expect(tapper.tap(10_001)?.bpm).toBe(400);
  });
});
