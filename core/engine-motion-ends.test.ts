/** Nothing of a voice stays on: where an envelope ends, whatever ends it. Without a source: the rules are ours. */
import { describe, expect, test } from '@jest/globals';
import { cc, motion, motionStage, moves, type MotionStage } from './engine-motion.test-helper.js';
import { LASER } from './engine.test-helper.js';
import type { Motion } from './show/motion.js';

/** An envelope whose sends follow the note: note 70 moves controller 10, 71 moves 11. It holds 0.6 of its range. */
const swell = (given: Parameters<typeof motion>[0] = {}): Motion =>
  motion({
    begins: 'asked',
    voices: 2,
    makes: {
      kind: 'envelope',
      attack: { ms: 0 },
      decay: { ms: 0 },
      sustain: 0.6,
      release: { ms: 400 },
    },
    sends: [cc(10, { follows: true })],
    ...given,
  });
const stageOf = (given: Parameters<typeof motion>[0] = {}): MotionStage => {
  const stage = motionStage([swell(given)], [moves('press', [70, 80])]);
  stage.pass(1);
  return stage;
};

/** The controllers as the laser knows them. */
function controllers(stage: MotionStage, known = new Map<number, number>()): Map<number, number> {
  for (const { line, signal, heldBack } of stage.left())
    if (line === LASER && !heldBack && signal.kind === 'controlChange')
      known.set(signal.number, signal.value);
  return known;
}

describe('an envelope', () => {
  test('of a voice that makes room ends where it ends', () => {
    const stage = stageOf();
    for (const note of [70, 71, 72]) {
      stage.press(note);
      stage.pass(200);
    }
    const known = controllers(stage);
    expect(known.get(10)).toBe(0);
    expect(known.get(11)).toBeGreaterThan(50);
    for (const note of [70, 71, 72]) stage.release(note);
    stage.pass(1000);
    expect([...controllers(stage, known).values()]).toEqual([0, 0, 0]);
  });

  test('that others send the same way leaves it to them', () => {
    const stage = stageOf({ sends: [cc(10, { follows: false })] });
    stage.press(70);
    stage.press(71);
    stage.pass(200);
    controllers(stage);
    stage.press(72);
    stage.pass(1);
    expect([...controllers(stage).values()]).not.toContain(0);
  });

  test.each([
    ['Panic', (stage: MotionStage) => stage.give({ t: 'panic', desk: '' })],
    [
      'switched off',
      (stage: MotionStage) => stage.load((show) => void (show.motions = [swell({ on: false })])),
    ],
    ['removed', (stage: MotionStage) => stage.load((show) => void (show.motions = []))],
  ])('is at its end after it was ended by: %s', (_, end) => {
    const stage = stageOf();
    stage.press(70);
    stage.press(71);
    stage.pass(200);
    const known = controllers(stage);
    expect(known.get(10)).toBeGreaterThan(50);
    end(stage);
    stage.pass(1);
    expect([...controllers(stage, known).values()]).toEqual([0, 0]);
  });

  test('is in the ledger while it is up, so that whoever dies, it is put down', () => {
    const stage = stageOf();
    stage.engine.drainHolds();
    stage.press(70);
    stage.pass(50);
    const held = stage.engine.drainHolds().find(({ lowEnds }) => lowEnds.length > 0);
    expect(held!.lowEnds).toEqual([
      { line: LASER, signal: expect.objectContaining({ kind: 'controlChange', number: 10, value: 0 }) },
    ]);
    stage.release(70);
    stage.pass(1000);
    expect(stage.engine.drainHolds()).toContainEqual({ key: held!.key, lowEnds: [] });
  });
});
