import { beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { MOVE_MS } from '../time/pace.js';
import { inMs } from '../time/span.js';
import { createFades, type Fades, type FadeTo } from './fades.js';
import { createLevels, type Levels } from './levels.js';

interface Rig {
  fades: Fades;
  levels: Map<number, number>;
  /** Lets time pass, waking the fades when they ask for it. */
  run(from: number, to: number): void;
  /** Another one sends a level. */
  set(slot: number, level: number): void;
}

function rig(): Rig {
  const levels = new Map<number, number>();
  const known = createLevels();
  const fades = createFades((line, signal) => {
    levels.set(signal.slot, signal.level);
    known.sent(line, signal);
  }, known);
  return {
    fades,
    levels,
    run(from, to) {
      for (let at = Math.max(from, fades.wakeAt()); at <= to; at = fades.wakeAt()) fades.wake(at);
    },
    set(slot, level) {
      levels.set(slot, level);
      known.sent(0, { kind: 'slot', slot, level });
    },
  };
}
const to = (slot: number, level: number, ms: number, more: Partial<FadeTo> = {}): FadeTo => ({
  line: 0,
  levels: [[slot, level]],
  fine: false,
  over: inMs(ms),
  sender: 'm',
  muted: false,
  ...more,
});

describe('a fade', () => {
  test('goes from the level that the slot has, and is half way at half the time', () => {
    const { fades, levels, run, set } = rig();
    set(5, 100);
    fades.start(to(5, 200, 1000), 0);
    run(0, 500);
    expect(levels.get(5)).toBe(150);
    run(500, 2000);
    expect(levels.get(5)).toBe(200);
    expect(fades.wakeAt()).toBe(Infinity);
  });

  test('by a curve is where the curve is', () => {
    const { fades, levels, run } = rig();
    fades.start(to(5, 200, 1000, { curve: (part) => part * part }), 0);
    run(0, 500);
    expect(levels.get(5)).toBe(50);
  });

  test('of two slots moves both as one level of sixteen bits', () => {
    const { fades, levels, run } = rig();
    fades.start(to(10, 0xffff, 1000, { fine: true }), 0);
    run(0, 500);
    expect((levels.get(10)! << 8) | levels.get(11)!).toBe(Math.round(0xffff / 2));
    run(500, 1000);
    expect([levels.get(10), levels.get(11)]).toEqual([255, 255]);
  });

  test('is taken over by a later one from where it is, without a jump', () => {
    const { fades, levels, run } = rig();
    fades.start(to(5, 200, 1000), 0);
    run(0, 500);
    fades.start(to(5, 0, 1000, { sender: 'other' }), 500);
    run(500, 520);
    expect(levels.get(5)).toBe(98);
    run(520, 5000);
    expect(levels.get(5)).toBe(0);
  });

  test('ends where somebody else sets the slot, also its fine part', () => {
    const { fades, levels, run, set } = rig();
    fades.start(to(5, 200, 1000), 0);
    fades.start(to(7, 60_000, 1000, { fine: true }), 0);
    run(0, 200);
    set(5, 7);
    set(8, 9);
    expect(fades.running()).toBe(0);
    run(200, 5000);
    expect([levels.get(5), levels.get(8)]).toEqual([7, 9]);
  });

  test('in no time is there at once', () => {
    const { fades, levels, run } = rig();
    fades.start(to(5, 200, 0), 0);
    run(0, 0);
    expect(levels.get(5)).toBe(200);
  });
});

test('whatever fades begin when, every slot ends where the last one for it leads', () => {
  const begun = fc.record({
    slot: fc.integer({ min: 1, max: 4 }),
    level: fc.nat(255),
    ms: fc.nat(900),
    wait: fc.nat(300),
  });
  fc.assert(
    fc.property(fc.array(begun, { minLength: 1, maxLength: 20 }), (list) => {
      const { fades, levels, run } = rig();
      let now = 0;
      for (const { slot, level, ms, wait } of list) {
        run(now, now + wait);
        now += wait;
        fades.start(to(slot, level, ms), now);
      }
      run(now, now + 2000);
      expect(fades.running()).toBe(0);
      for (const slot of new Set(list.map((one) => one.slot)))
        expect(levels.get(slot)).toBe(list.findLast((one) => one.slot === slot)!.level);
    }),
  );
});

describe('at the edges', () => {
  let fades: Fades;
  let known: Levels;
  let sent: string[];
  beforeEach(() => {
    sent = [];
    known = createLevels();
    fades = createFades((line, signal) => {
      sent.push(`${signal.slot}=${signal.level}`);
      known.sent(line, signal);
    }, known);
  });
  const fade = (more: Partial<FadeTo>): FadeTo => to(1, 100, 1000, more);

  test('it is woken a step after the last one, and no later than the first end', () => {
    fades.start(fade({ over: inMs(50) }), 0);
    expect(fades.wakeAt()).toBe(MOVE_MS);
    fades.wake(MOVE_MS);
    fades.wake(2 * MOVE_MS);
    expect(fades.wakeAt()).toBe(50);
    fades.wake(50);
    expect([fades.wakeAt(), fades.running()]).toEqual([Infinity, 0]);
    fades.start(fade({ over: inMs(5) }), 100);
    expect(fades.wakeAt()).toBe(105);
  });

  test('before its time nothing is sent', () => {
    fades.start(fade({ over: inMs(1000) }), 0);
    fades.wake(MOVE_MS - 1);
    expect(sent).toEqual([]);
  });

  test('a level that did not change is not sent again, and the end is said in any case', () => {
    fades.start(fade({ levels: [[1, 2]], over: inMs(1000) }), 0);
    for (let now = MOVE_MS; now <= 1000; now += MOVE_MS) fades.wake(now);
    expect(sent).toEqual(['1=1', '1=2', '1=2']);
    sent.length = 0;
    fades.start(fade({ levels: [[9, 0]], over: inMs(100) }), 2000);
    fades.wake(2100);
    expect(sent).toEqual(['9=0']);
  });

  test('the last slot has no fine part: its level is of eight bits', () => {
    fades.start(fade({ levels: [[511, 0x1234]], fine: true, over: inMs(0) }), 0);
    fades.wake(0);
    expect(sent).toEqual(['511=18', '512=52']);
    sent.length = 0;
    fades.start(fade({ levels: [[512, 200]], fine: true, over: inMs(0) }), 10);
    fades.wake(10);
    expect(sent).toEqual(['512=200']);
  });

  test('of a line that is not there nothing is kept', () => {
    fades.start(fade({ line: -1 }), 0);
    known.sent(-1, { kind: 'slot', slot: 1, level: 9 });
    expect([fades.wakeAt(), fades.running(), known.levelOf(-1, 1)]).toEqual([Infinity, 0, 0]);
    expect([known.levelOf(7, 1), known.levelsOf(7), known.isFading(7, 1)]).toEqual([
      0,
      new Uint8Array(512),
      false,
    ]);
  });

  test('levels are told by their slots, from 1 to 512, as a copy', () => {
    known.sent(0, { kind: 'slot', slot: 1, level: 11 });
    known.sent(0, { kind: 'slot', slot: 512, level: 12 });
    const levels = known.levelsOf(0);
    expect([levels.length, levels[0], levels[511], levels[1]]).toEqual([512, 11, 12, 0]);
    levels[0] = 99;
    expect([known.levelOf(0, 1), known.levelOf(1, 1)]).toEqual([11, 0]);
  });

  test('those of a sender are ended where they are; the others go on', () => {
    fades.start(
      fade({
        levels: [
          [1, 100],
          [2, 100],
        ],
        over: inMs(100),
        sender: 'a',
      }),
      0,
    );
    fades.start(
      fade({
        levels: [
          [2, 50],
          [3, 50],
        ],
        over: inMs(100),
        sender: 'b',
      }),
      0,
    );
    expect([fades.running(), known.isFading(0, 1), known.isFading(0, 4)]).toEqual([3, true, false]);
    fades.stop((sender) => sender === 'a');
    // Slot 2 was taken over: it is not a's any more.
    expect([fades.running(), known.isFading(0, 1), known.isFading(0, 2)]).toEqual([2, false, true]);
    fades.wake(100);
    expect(sent).toEqual(['2=50', '3=50']);
    fades.start(fade({ over: inMs(100), sender: 'b' }), 200);
    fades.stop(() => true);
    expect(fades.wakeAt()).toBe(Infinity);
  });

  test('a slot that is set by hand leaves its fade; one beside it that has no fine part stays', () => {
    fades.start(
      fade({
        levels: [
          [1, 100],
          [2, 100],
        ],
        over: inMs(100),
      }),
      0,
    );
    known.sent(0, { kind: 'slot', slot: 2, level: 7 });
    expect([known.isFading(0, 1), known.isFading(0, 2), fades.running()]).toEqual([true, false, 1]);
    fades.wake(100);
    expect(sent).toEqual(['1=100']);
  });
});
