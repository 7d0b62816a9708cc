/** Sound cards are off by less than 200 millionths, as their makers say: common practice. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createSampleClock } from './sample-clock.js';

const RATE = 48_000;
const BLOCK = 480;

describe('the clock of a sound card', () => {
  test('knows nothing before a sample was seen', () => {
    const clock = createSampleClock(RATE);
    expect(clock.timeOf(0)).toBeNull();
    expect(clock.sampleAt(0)).toBeNull();
  });

  test('is right to a few ms for an hour, whatever the card’s speed, though blocks come up to 40 ms late', () => {
    const speed = fc.integer({ min: -200, max: 200 });
    fc.assert(
      fc.property(
        speed,
        fc.infiniteStream(fc.double({ min: 0, max: 40, noNaN: true })),
        (millionths, late) => {
          const clock = createSampleClock(RATE);
          const trueMs = (sample: number): number => 1000 + (sample / RATE) * 1000 * (1 - millionths / 1e6);
          const delays = late[Symbol.iterator]();
          const hour = (3600 * RATE) / BLOCK;
          for (let block = 1; block <= hour; block += 1) {
            const sample = block * BLOCK;
            clock.saw(sample, trueMs(sample) + (block % 7 === 0 ? 0.2 : (delays.next().value as number)));
            if (block > 100 && block % 999 === 0) {
              expect(Math.abs(clock.timeOf(sample)! - trueMs(sample))).toBeLessThan(2.5);
              expect(clock.sampleAt(clock.timeOf(sample)!)).toBeCloseTo(sample, 1);
            }
          }
        },
      ),
      { numRuns: 3 },
    );
  });

  test('goes on behind samples that were lost, though not because of one stall', () => {
    const clock = createSampleClock(RATE);
    const feed = (from: number, count: number, lostMs: number): void => {
      for (let at = from; at < from + count; at++) clock.saw(at * BLOCK, at * 10 + lostMs);
    };
    feed(1, 200, 0);
    // Everything of half a second comes at once.
    for (let at = 201; at <= 250; at++) clock.saw(at * BLOCK, 2500);
    expect(clock.timeOf(250 * BLOCK)).toBeCloseTo(2500, 6);
    feed(251, 400, 700);
    expect(clock.timeOf(650 * BLOCK)).toBeCloseTo(7200, 6);
  });
});
