/** The position over engines that end at any instant: what one of them leaves, the next one goes on from. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { at, called, moment, TIDE, timeStage, type TimeStage } from './engine-time.test-helper.js';
import type { PositionBefore } from './time/kept-position.js';

const HOUR = at('01:00:00:00');
/** About half a second apart, from 01:00:00:12 on. */
const PEAL = Array.from({ length: 60 }, (_, n) =>
  moment(String(n), `01:00:${String(Math.floor((n + 1) / 2)).padStart(2, '0')}:${n % 2 === 0 ? '12' : '00'}`),
);
/** The time in which lines open after a restart. */
const OPENING_MS = 250;

const kept = (stage: TimeStage): PositionBefore => stage.engine.position.kept(stage.now());

/** Another engine, after nobody has played for some time. */
function next(stage: TimeStage, goneMs: number, before = kept(stage)): TimeStage {
  const after = timeStage(PEAL);
  after.pass(stage.now() + goneMs);
  const rest = { standingBy: null, called: null, finished: [], tempo: null };
  after.give({ t: 'restore', before: { ...rest, position: before } });
  return after;
}

const NAMES = PEAL.map(({ id }) => id);

describe('a position that is gone on from', () => {
  test('is kept while lines open as it was before, so that an engine that dies then leaves nothing out', () => {
    const first = timeStage(PEAL);
    first.act({ do: 'playFrom', ms: HOUR });
    first.pass(1100);
    const second = next(first, 2000);
    second.pass(OPENING_MS - 1);
    expect(called(second)).toEqual([]);
    const third = next(second, 3000);
    third.pass(OPENING_MS);
    const due = Math.floor((1100 + 2000 + 3000 + 2 * OPENING_MS) / 500);
    expect([...called(first), ...called(third)]).toEqual(NAMES.slice(0, due));
  });

  test('stands when nobody has played for longer than ten seconds, however many engines began meanwhile', () => {
    let stage = timeStage(PEAL);
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(1100);
    for (let n = 0; n < 4; n++) {
      stage = next(stage, 3000);
      stage.pass(OPENING_MS - 1);
    }
    expect(stage.engine.position.motion()).toMatchObject({ speed: 0, ms: HOUR + 1100 });
    stage.pass(5000);
    expect(called(stage)).toEqual([]);
  });

  test('that stands at a moment which was not called yet calls it when it plays on', () => {
    const first = timeStage(PEAL);
    first.act({ do: 'locate', ms: at('01:00:01:12') });
    const second = next(first, 1000);
    second.act({ do: 'play' });
    second.pass(OPENING_MS);
    expect(called(second)).toEqual(['m2']);
  });

  test('by a source that is heard again calls what was due meanwhile, and nothing twice', () => {
    const first = timeStage(PEAL, {}, { sources: [TIDE] });
    first.play(HOUR, 3100);
    const second = next(first, 900);
    second.play(HOUR + 4000, 2600);
    expect([...called(first), ...called(second)]).toEqual(NAMES.slice(0, 13));
  });

  test.each([2000, 20_000])(
    'by a source that has jumped to %s ms meanwhile calls what is due from there on, and nothing before it',
    (there) => {
      const first = timeStage(PEAL, {}, { sources: [TIDE] });
      first.play(HOUR, 5100);
      const second = next(first, 900);
      second.play(HOUR + there, 1200);
      const place = NAMES.indexOf(`m${there / 500 - 1}`);
      expect(called(second)).toEqual(NAMES.slice(place, place + 3));
    },
  );

  test('by a source that began meanwhile calls what it can have passed since then, and nothing before it', () => {
    const first = timeStage(PEAL, {}, { sources: [TIDE] });
    const second = next(first, 1400);
    second.play(HOUR + 20_000, 1200);
    const place = NAMES.indexOf('m39');
    expect(called(second)).toEqual(NAMES.slice(place - 3, place + 3));
  });

  test('by a source calls late what was due since the first of two engines died, before the second heard it', () => {
    const first = timeStage(PEAL, {}, { sources: [TIDE] });
    first.play(HOUR, 3100);
    const second = next(first, 2900);
    second.pass(2000);
    const third = next(second, 1000);
    third.play(HOUR + 9000, 1200);
    expect([...called(first), ...called(second), ...called(third)]).toEqual(NAMES.slice(0, 20));
    const late = next(second, 8000);
    late.play(HOUR + 16_000, 1200);
    const place = NAMES.indexOf('m31');
    expect(called(late)).toEqual(NAMES.slice(place, place + 3));
  });

  const life = fc.record({
    ms: fc.integer({ min: 0, max: 3000 }),
    goneMs: fc.integer({ min: 0, max: 3000 }),
  });
  test('of any lives of engines: each moment is called once, in its order', () => {
    fc.assert(
      fc.property(fc.array(life, { minLength: 1, maxLength: 6 }), (lives) => {
        let stage = timeStage(PEAL);
        stage.act({ do: 'playFrom', ms: HOUR });
        const all: string[] = [];
        /** How long nobody has called anything. */
        let silentMs = 0;
        for (const { ms, goneMs } of lives) {
          stage.pass(ms);
          all.push(...called(stage));
          silentMs = (ms >= OPENING_MS || all.length === 0 ? 0 : silentMs + ms) + goneMs;
          if (silentMs > 9000) return;
          stage = next(stage, goneMs);
        }
        stage.pass(40_000);
        expect([...all, ...called(stage)]).toEqual(NAMES);
      }),
    );
  });
});
