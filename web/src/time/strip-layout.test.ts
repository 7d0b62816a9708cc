import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { emptyShow } from '@tawny-signal/core/show';
import { makeMoment } from '@tawny-signal/core/show/moment';
import { LANES, lanesOf, placedMoments, rangeOf, tickOf } from './strip-layout';

describe('the strip of the position', () => {
  test('has the moments in the order of their times, without those that have none', () => {
    const show = emptyShow('The Lantern Pier');
    const at = (cue: string, timecode: string | null) =>
      makeMoment({ id: cue, cue, name: cue, timecode, sends: [] });
    // Frame 29 does not exist at 25 frames a second.
    show.moments = [at('1', '01:00:02:00'), at('2', null), at('3', '01:00:01:00'), at('4', '01:00:00:29')];
    const placed = placedMoments(show);
    expect(placed.map(({ moment }) => moment.cue)).toEqual(['3', '1']);
    const { from, to } = rangeOf(placed.map(({ ms }) => ms));
    expect(from).toBeLessThan(placed[0]!.ms);
    expect(to).toBeGreaterThan(placed[1]!.ms);
  });

  test('has no two labels in one place', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(2000), { maxLength: 60 }), (places) => {
        const sorted = places.toSorted((a, b) => a - b);
        const lanes = lanesOf(sorted, 120);
        for (let lane = 0; lane < LANES; lane++) {
          const there = sorted.filter((_, at) => lanes[at] === lane);
          for (let at = 1; at < there.length; at++)
            expect(there[at]! - there[at - 1]!).toBeGreaterThanOrEqual(120);
        }
      }),
    );
  });

  test('has a tick with room for its words at any zoom', () => {
    for (const pixelsPerMs of [0.001, 0.01, 0.1, 1])
      expect(tickOf(pixelsPerMs) * pixelsPerMs).toBeGreaterThanOrEqual(90);
  });
});
