import { describe, expect, test } from '@jest/globals';
import { LASER, loaded, PADS, press, release, control } from '../engine.test-helper.js';
import type { Engine, Outs } from '../engine.js';
import { copySignal, type Signal } from '../signal.js';
import { newRoute } from './words.js';
import type { Route } from '../show/route.js';

const toLaser = { ...newRoute('midi', 'pads', 'laser'), id: 'to-laser' } as Route;
const open = (): Engine => loaded([], (made) => void (made.routes = [toLaser]));

interface Late {
  at: number;
  line: number;
  signal: Signal;
}

/**
 * Runs the engine in its own time. Whoever is at the laser's line passes what it gets on to the pads' line after `roundMs`:
 * a loop that closes outside. @returns how many messages left
 */
function run(
  engine: Engine,
  roundMs: number | null,
  played: Late[],
  until: number,
): { left: number; cutAt: number | null } {
  const due = [...played];
  let left = 0;
  let cutAt: number | null = null;
  for (;;) {
    due.sort((a, b) => a.at - b.at);
    const wakeAt = engine.wakeAt();
    const next = due[0];
    const now = Math.min(next?.at ?? Infinity, wakeAt);
    if (now > until) return { left, cutAt };
    const take = (outs: Outs): void => {
      for (let i = 0; i < outs.count; i++) {
        left++;
        if (roundMs !== null && outs.line[i] === LASER)
          due.push({ at: now + roundMs, line: PADS, signal: copySignal(outs.signal[i]!) });
      }
    };
    if (next && next.at <= wakeAt) {
      due.shift();
      take(engine.step(next.line, next.signal, now));
    } else take(engine.wake(now));
    if (engine.cutRoutes().has('to-laser')) cutAt ??= now;
  }
}

const at = (time: number, signal: Signal): Late => ({ at: time, line: PADS, signal });

describe('a loop that closes outside', () => {
  test.each([0.3, 1, 5, 20, 40])('of %d ms is cut within 0.7 s', (roundMs) => {
    const engine = open();
    const { cutAt, left } = run(engine, roundMs, [at(0, press(36))], 5000);
    expect(cutAt).not.toBeNull();
    expect(cutAt!).toBeLessThan(700);
    expect(left).toBeLessThan(2000);
  });

  test('is cut for controllers and system-exclusive too', () => {
    const sysex: Signal = { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, 1, 0xf7) };
    for (const signal of [control(21, 64), sysex])
      expect(run(open(), 2, [at(0, signal)], 5000).cutAt).not.toBeNull();
  });

  test('stays cut until it is restored, and then passes again', () => {
    const engine = open();
    run(engine, 2, [at(0, press(36))], 2000);
    expect(engine.step(PADS, press(40), 2001).count).toBe(0);
    expect(engine.restoreRoute('to-laser')).toBe(true);
    expect(engine.step(PADS, press(41), 2002).count).toBe(1);
    expect(engine.restoreRoute('to-laser')).toBe(false);
  });

  test('leaves nothing sounding when it is cut', () => {
    const engine = open();
    let down = 0;
    const due: Late[] = [at(0, press(36))];
    for (let now = 0; now < 2000; now++) {
      const take = (outs: Outs): void => {
        for (let i = 0; i < outs.count; i++) {
          down = outs.signal[i]!.kind === 'noteOn' ? 1 : 0;
          due.push(at(now + 2, copySignal(outs.signal[i]!)));
        }
      };
      for (const late of due.splice(0).filter((one) => one.at <= now || !due.push(one)))
        take(engine.step(late.line, late.signal, now));
      if (engine.wakeAt() <= now) take(engine.wake(now));
    }
    expect([engine.cutRoutes().size, down]).toEqual([1, 0]);
  });
});

describe('what only looks like a loop', () => {
  test('a roll on one pad, always as hard, is not cut, and nothing of it is lost', () => {
    const engine = open();
    // 40 presses a second, as a machine that repeats a note makes them.
    const roll = Array.from({ length: 400 }, (_, n) => [
      at(n * 25, press(36)),
      at(n * 25 + 12, release(36)),
    ]).flat();
    const { cutAt, left } = run(engine, null, roll, 20_000);
    expect([cutAt, left]).toEqual([null, roll.length]);
  });

  test('a clock is not cut', () => {
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    // 24 a quarter note at 120 beats a minute (MIDI 1.0): one each 20.833 ms.
    const ticks = Array.from({ length: 480 }, (_, n) => at(n * 20.833, clock));
    expect(run(open(), null, ticks, 20_000)).toEqual({ cutAt: null, left: 480 });
  });

  test('a pad that is played now and then while another is rolled is heard at once', () => {
    const engine = open();
    const roll = Array.from({ length: 200 }, (_, n) => at(n * 25, press(36)));
    const { cutAt, left } = run(
      engine,
      null,
      [...roll, ...Array.from({ length: 10 }, (_, n) => at(n * 500 + 7, press(40)))],
      20_000,
    );
    expect([cutAt, left]).toEqual([null, 210]);
  });

  test('a clock that goes round is cut all the same', () => {
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    const ticks = Array.from({ length: 240 }, (_, n) => at(n * 20.833, clock));
    const { cutAt, left } = run(open(), 10, ticks, 5000);
    expect(cutAt).not.toBeNull();
    expect(cutAt!).toBeLessThan(1000);
    expect(left).toBeLessThan(5000);
  });

  test('a fader that is swept to and fro is not cut', () => {
    const sweep = Array.from({ length: 2000 }, (_, n) => at(n * 4, control(21, Math.abs((n % 254) - 127))));
    expect(run(open(), null, sweep, 10_000)).toEqual({ cutAt: null, left: 2000 });
  });
});
