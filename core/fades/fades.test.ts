import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createFades, type Fades, type FadeTo } from './fades.js';

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
  const fades = createFades((line, signal) => {
    levels.set(signal.slot, signal.level);
    fades.sent(line, signal);
  });
  return {
    fades,
    levels,
    run(from, to) {
      for (let at = Math.max(from, fades.wakeAt()); at <= to; at = fades.wakeAt()) fades.wake(at);
    },
    set(slot, level) {
      levels.set(slot, level);
      fades.sent(0, { kind: 'slot', slot, level });
    },
  };
}
const to = (slot: number, level: number, ms: number, more: Partial<FadeTo> = {}): FadeTo => ({
  line: 0,
  levels: [[slot, level]],
  fine: false,
  ms,
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
