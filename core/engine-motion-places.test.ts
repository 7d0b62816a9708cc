/** Motions that the show's position begins. Times are those of the engine. The position is our own, at 25 frames a second. */
import { describe, expect, test } from '@jest/globals';
import { motion, motionStage, moves, values, type MotionStage } from './engine-motion.test-helper.js';
import type { Motion } from './show/motion.js';
import type { PositionAct } from './time/position.js';

const HOUR = 3_600_000;
const placed = (given: Partial<Parameters<typeof motion>[0]> = {}): Motion =>
  motion({
    begins: 'position',
    place: { from: '01:00:02:00', until: '01:00:06:00' },
    makes: { kind: 'wave', form: 'rampUp' },
    drive: { everyMs: 10_000 },
    ...given,
  });
const at25 = (made: Motion, ...more: Parameters<typeof motionStage>[1][]): MotionStage =>
  motionStage([made], more[0], (show) => (show.settings.timecode.frameRate = '25'));
const position = (stage: MotionStage, act: PositionAct): void => void stage.give({ t: 'position', act });
/** When it first and last sent something, in ms since the call before, and what. */
function sent(stage: MotionStage, ms: number) {
  const begin = stage.now();
  stage.left();
  stage.pass(ms);
  return values(stage.left()).map(({ at, value }) => ({ at: at - begin, value }));
}

describe('a motion that the position begins', () => {
  test('runs from its place to the other, and only while the position runs', () => {
    const stage = at25(placed());
    expect(sent(stage, 3000)).toEqual([]);
    position(stage, { do: 'playFrom', ms: HOUR });
    const all = sent(stage, 8000);
    expect(all[0]!.at).toBeGreaterThanOrEqual(2000);
    expect(all[0]!.at).toBeLessThanOrEqual(2021);
    expect(all.at(-1)!.at).toBeGreaterThan(5960);
    expect(all.at(-1)!.at).toBeLessThanOrEqual(6000);
    for (const { at, value } of all) expect(value).toBeCloseTo((at - 2000) / 10_000, 4);
    expect(stage.engine.motions.seen(0, stage.now()).running).toEqual({});
  });

  test('is where it would be after a locate into the middle, at the speed of the position', () => {
    const stage = at25(placed());
    position(stage, { do: 'speed', speed: 2 });
    position(stage, { do: 'playFrom', ms: HOUR + 4000 });
    const all = sent(stage, 3000);
    // Two seconds of position are one of time.
    for (const { at, value } of all) expect(value).toBeCloseTo((at + 1000) / 10_000, 4);
    expect(all[0]!.at).toBeLessThanOrEqual(20);
    expect(all.at(-1)!.at).toBeGreaterThan(960);
    expect(all.at(-1)!.at).toBeLessThanOrEqual(1000);
  });

  test('ends when the position stops or jumps out, and begins again when it comes in', () => {
    const stage = at25(placed());
    for (const out of [{ do: 'stop' }, { do: 'playFrom', ms: 2 * HOUR }] as const) {
      position(stage, { do: 'playFrom', ms: HOUR + 3000 });
      expect(sent(stage, 500).length).toBeGreaterThan(10);
      position(stage, out);
      expect(sent(stage, 500)).toEqual([]);
    }
  });

  test('runs on where no end is written', () => {
    const stage = at25(placed({ place: { from: '01:00:02:00' } }));
    position(stage, { do: 'playFrom', ms: HOUR });
    expect(sent(stage, 60_000).at(-1)!.at).toBeGreaterThan(59_900);
  });

  test('goes round with a loop of the position', () => {
    const stage = at25(placed());
    position(stage, { do: 'loop', loop: { from: HOUR + 1000, to: HOUR + 4000 } });
    position(stage, { do: 'playFrom', ms: HOUR + 1000 });
    const begins = sent(stage, 9000).filter(({ value }, at, all) => at === 0 || value < all[at - 1]!.value);
    expect(begins.map(({ at }) => Math.round(at / 100))).toEqual([10, 40, 70]);
  });

  test('stays stopped once somebody has stopped it, or Panic has, until the position comes in again', () => {
    for (const stop of [
      (stage: MotionStage) => stage.give({ t: 'motion', id: 'tide', act: 'stop' }),
      (stage: MotionStage) => stage.press(40),
      (stage: MotionStage) => stage.give({ t: 'panic', desk: 'desk' }),
    ]) {
      const stage = at25(placed(), [moves('stop', [40, 40])]);
      position(stage, { do: 'playFrom', ms: HOUR + 2000 });
      expect(sent(stage, 1000).length).toBeGreaterThan(10);
      stop(stage);
      expect(sent(stage, 1000)).toEqual([]);
      position(stage, { do: 'playFrom', ms: HOUR });
      expect(sent(stage, 3000).length).toBeGreaterThan(10);
    }
  });

  test('Panic outside of its place does not keep it from beginning', () => {
    const stage = at25(placed());
    position(stage, { do: 'playFrom', ms: HOUR });
    stage.pass(500);
    stage.give({ t: 'panic', desk: 'desk' });
    expect(sent(stage, 3000).length).toBeGreaterThan(10);
  });

  test.each([
    ['goes on where it would be', false],
    ['stays stopped', true],
  ])('%s after a restart of the engine', (_, isStopped) => {
    const before = at25(placed());
    position(before, { do: 'playFrom', ms: HOUR + 2000 });
    before.pass(1000);
    if (isStopped) before.give({ t: 'motion', id: 'tide', act: 'stop' });
    const { position: seen, motions } = before.engine;
    const kept = motions.kept();
    const after = at25(placed());
    after.pass(1000);
    after.give({
      t: 'restore',
      before: {
        standingBy: null,
        called: null,
        finished: [],
        tempo: null,
        motions: kept,
        position: seen.kept(before.now()),
      },
    });
    const all = sent(after, 500);
    if (isStopped) return expect(all).toEqual([]);
    expect(all.length).toBeGreaterThan(10);
    for (const { at, value } of all) expect(value).toBeCloseTo((1000 + at) / 10_000, 3);
  });

  test('runs only while its bank is on, and begins in the middle when the bank comes on', () => {
    const stage = at25(placed({ bankId: 'storm' }));
    stage.load((show) => (show.banks = [{ id: 'storm', name: 'Storm', on: false, group: '' }]));
    position(stage, { do: 'playFrom', ms: HOUR + 2000 });
    expect(sent(stage, 1000)).toEqual([]);
    stage.load((show) => (show.banks = [{ id: 'storm', name: 'Storm', on: true, group: '' }]));
    const [first] = sent(stage, 500);
    expect(first!.value).toBeCloseTo(0.1, 2);
  });

  test('goes on through an edit of what it is, and ends with an edit of its place that leaves it', () => {
    const stage = at25(placed());
    position(stage, { do: 'playFrom', ms: HOUR + 2000 });
    stage.pass(1000);
    stage.load((show) => (show.motions = [placed({ shape: { amount: 0.5 } })]));
    expect(sent(stage, 100).at(-1)!.value).toBeCloseTo(0.055, 2);
    stage.load((show) => (show.motions = [placed({ place: { from: '02:00:00:00' } })]));
    expect(sent(stage, 1000)).toEqual([]);
  });

  test('ends where it ran by itself before, and is outside of its place', () => {
    const stage = at25(placed({ begins: 'always' }));
    expect(sent(stage, 500).length).toBeGreaterThan(10);
    stage.load((show) => (show.motions = [placed()]));
    expect(sent(stage, 500)).toEqual([]);
    position(stage, { do: 'playFrom', ms: HOUR + 2000 });
    expect(sent(stage, 500).length).toBeGreaterThan(10);
    position(stage, { do: 'stop' });
    stage.load((show) => (show.motions = [placed({ begins: 'always' })]));
    expect(sent(stage, 500).length).toBeGreaterThan(10);
  });

  test('that is an envelope is let go at the end of its place', () => {
    const stage = at25(
      placed({
        place: { from: '01:00:01:00', until: '01:00:02:00' },
        makes: { kind: 'envelope', attack: { ms: 0 }, decay: { ms: 0 }, sustain: 1, release: { ms: 500 } },
      }),
    );
    position(stage, { do: 'playFrom', ms: HOUR });
    const all = sent(stage, 4000);
    expect(all.find(({ at }) => at >= 1000)?.value).toBe(1);
    expect(all.at(-1)).toMatchObject({ value: 0 });
    expect(all.at(-1)!.at).toBeGreaterThan(2300);
    expect(all.at(-1)!.at).toBeLessThanOrEqual(2520);
  });

  test.each([
    ['without a place', { from: null }],
    ['that ends before it begins', { from: '01:00:06:00', until: '01:00:02:00' }],
    ['that is no timecode at this rate', { from: '01:00:02:29' }],
  ])('%s never runs', (_, place) => {
    const stage = at25(placed({ place }));
    position(stage, { do: 'playFrom', ms: HOUR });
    expect(sent(stage, 10_000)).toEqual([]);
  });
});
