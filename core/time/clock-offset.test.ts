/** The error bound of half a round trip is that of NTP (RFC 5905, section 8). */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createClockOffset } from './clock-offset.js';

describe('the offset of another clock', () => {
  test('is unknown before it has answered', () => {
    const clock = createClockOffset();
    expect([clock.toOther(5), clock.roundTrip()]).toEqual([null, Infinity]);
  });

  test('is off by at most half of the shortest round trip, however the ways differ', () => {
    const way = fc.record({ there: fc.nat(200), back: fc.nat(200) });
    fc.assert(
      fc.property(
        fc.integer({ min: -1e6, max: 1e6 }),
        fc.array(way, { minLength: 1, maxLength: 8 }),
        (ahead, ways) => {
          const clock = createClockOffset();
          ways.forEach(({ there, back }, at) => {
            const sent = at * 1000;
            clock.answered(sent, sent + there + ahead, sent + there + back);
          });
          const shortest = Math.min(...ways.map(({ there, back }) => there + back));
          expect(clock.roundTrip()).toBe(shortest);
          expect(Math.abs(clock.toOther(0)! - ahead)).toBeLessThanOrEqual(shortest / 2);
        },
      ),
    );
  });

  test('follows a clock that drifts: only the last eight answers count', () => {
    const clock = createClockOffset();
    clock.answered(0, 0, 0);
    for (let at = 1; at <= 8; at++) clock.answered(at * 1000, at * 1000 + 55, at * 1000 + 10);
    expect(clock.toOther(100)).toBe(150);
    // An answer from before its question says nothing.
    clock.answered(9000, 0, 8000);
    expect(clock.toOther(100)).toBe(150);
  });
});
