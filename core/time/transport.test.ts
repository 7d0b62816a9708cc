/** How a position is drawn by those who are told of it late, and by a clock that is a little off. The rules are our own. */
import { describe, expect, test } from '@jest/globals';
import { OWN } from './position.js';
import { seenPositionAt } from './transport.js';

const at = 1000;
const motion = (ms: number, speed = 1): { ms: number; at: number; speed: number } => ({ ms, at, speed });

describe('a position that is drawn', () => {
  test('runs on from where it was told', () =>
    expect(seenPositionAt({ motion: motion(5000, 2), counts: OWN, loop: null }, at + 10)).toBe(5020));

  test.each([1, -1])('is not drawn before the place that it jumped to, at speed %d', (speed) =>
    expect(seenPositionAt({ motion: motion(5000, speed), counts: OWN, loop: null }, at - 30)).toBe(5000),
  );

  test('goes round in its loop before it is told to, for any number of rounds', () => {
    const loop = { from: 4600, to: 5000 };
    for (const rounds of [0, 1, 7])
      expect(seenPositionAt({ motion: motion(4900), counts: OWN, loop }, at + 130 + 400 * rounds)).toBe(4630);
    expect(seenPositionAt({ motion: motion(4900), counts: OWN, loop }, at + 99)).toBe(4999);
    expect(seenPositionAt({ motion: motion(4900), counts: OWN, loop }, at + 100)).toBe(4600);
  });

  test('goes on where the loop does not count: behind it, backward, or while a source is followed', () => {
    const loop = { from: 4600, to: 5000 };
    expect(seenPositionAt({ motion: motion(5000), counts: OWN, loop }, at + 50)).toBe(5050);
    expect(seenPositionAt({ motion: motion(4700, -1), counts: OWN, loop }, at + 300)).toBe(4400);
    expect(seenPositionAt({ motion: motion(4900), counts: 'deck', loop }, at + 200)).toBe(5100);
  });
});
