/** Timecode that is held up on its way and comes all at once, as over a busy machine or network: the position goes on by its speed, and does not leap. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { called, moment, timeStage, type TimeStage } from './engine-time.test-helper.js';
import { SCORE } from './engine.test-helper.js';
import { quarterFrame } from './timecode/mtc.js';

const HOUR = 3_600_000;
const PER_QUARTER = 10;
const FRAME_MS = 40;

interface Source {
  stage: TimeStage;
  /** Sends what is due by now, looked at every two ms, for some time. While it is held up nothing comes. */
  run(ms: number): void;
  holdUp(ms: number): void;
  /** Stands still for some time, and goes on from where it was. */
  pause(ms: number): void;
  /** Where the source itself is, in ms. */
  truth(): number;
}

function sourceOf(speed: number, moments: readonly ReturnType<typeof moment>[] = []): Source {
  const stage = timeStage(moments, { rideMs: 6000 });
  const first = HOUR / PER_QUARTER;
  let sent = 0;
  let began = 0;
  const truth = (): number => HOUR + (stage.now() - began) * speed;
  return {
    stage,
    truth,
    run(ms) {
      for (let at = 0; at < ms; at += 2) {
        stage.pass(2);
        // The tide clock sends no more at once.
        for (let n = 0; n < 64 && HOUR + sent * PER_QUARTER <= truth(); n++)
          stage.give({ t: 'heard', line: SCORE, signal: quarterFrame(first + sent++, '25') });
      }
    },
    holdUp: (ms) => stage.pass(ms),
    pause(ms) {
      stage.pass(ms);
      began += ms;
    },
  };
}

/** How far the position is from the source, in frames. */
const offFrames = ({ stage, truth }: Source): number => Math.abs(stage.position() - truth()) / FRAME_MS;

describe('timecode that was held up', () => {
  const held = fc.integer({ min: 20, max: 900 });
  const between = fc.integer({ min: 4, max: 400 });
  const stalls = fc.array(held, { minLength: 1, maxLength: 6 });

  test('leaves the position where it is, at any speed, however often', () => {
    fc.assert(
      fc.property(fc.constantFrom(0.25, 0.5, 1, 1.1, 2, 4), stalls, (speed, lengths) => {
        const source = sourceOf(speed);
        source.run(1500);
        for (const length of lengths) {
          source.holdUp(length);
          expect(offFrames(source)).toBeLessThan(1.5);
          for (let n = 0; n < 10; n++) {
            source.run(40);
            expect(offFrames(source)).toBeLessThan(1.5);
            expect(source.stage.engine.position.motion().speed / speed).toBeCloseTo(1, 1);
          }
        }
      }),
      { numRuns: 40 },
    );
  });

  test('calls every moment once, in its order', () => {
    const moments = ['01:00:02:00', '01:00:03:00', '01:00:05:00', '01:00:08:00', '01:00:10:00'].map(
      (timecode, at) => moment(String(at + 1), timecode),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(held, between), { minLength: 1, maxLength: 12 }), (stretches) => {
        const source = sourceOf(4, moments);
        source.run(300);
        for (const [length, rest] of stretches) {
          source.holdUp(length);
          source.run(rest);
          // With little rest between them the speed is known less well.
          expect(offFrames(source)).toBeLessThan(3);
        }
        source.run(3000);
        expect(called(source.stage)).toEqual(['m1', 'm2', 'm3', 'm4', 'm5']);
      }),
      { numRuns: 60 },
    );
  });

  test('does not bend the speed by the last of what came at once', () => {
    // Found by the property above: held up for 27 ms, less than a frame lasts at full speed, the speed was 3.86 for 4.
    const source = sourceOf(4);
    source.run(300);
    for (const length of [27, 752, 20]) {
      source.holdUp(length);
      source.run(4);
      expect(source.stage.engine.position.motion().speed).toBeCloseTo(4, 2);
      expect(offFrames(source)).toBeLessThan(0.5);
    }
  });

  test('is told from a source that stood still: that is followed to where it is', () => {
    for (const speed of [0.5, 1, 4]) {
      const source = sourceOf(speed);
      source.run(1500);
      source.pause(700);
      source.run(600);
      expect(offFrames(source)).toBeLessThan(1.5);
      expect(source.stage.engine.position.motion().speed).toBeCloseTo(speed, 1);
    }
  });

  test('does not lock at a speed that no source has', () => {
    const source = sourceOf(1);
    source.holdUp(800);
    source.run(20);
    expect(source.stage.engine.position.motion().speed).toBeLessThan(6);
    source.run(1000);
    expect(offFrames(source)).toBeLessThan(1.5);
  });
});
