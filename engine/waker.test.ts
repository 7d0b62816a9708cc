/** When the engine is woken, by a clock that the test moves. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { createWaker, type Waker, type WakerClock } from './waker.js';

let now: number;
let due: number;
let woken: number[];
/** What is waited for: the timer's time, or null for the next round. */
let waiting: { ms: number | null; act: () => void }[];
let waker: Waker;

const keep = (ms: number | null, act: () => void): (() => void) => {
  const one = { ms, act };
  waiting.push(one);
  return () => void (waiting = waiting.filter((other) => other !== one));
};
const clock: WakerClock = {
  now: () => now,
  later: (ms, act) => keep(ms, act),
  soon: (act) => keep(null, act),
};

/** What is waited for happens, at this time. */
function happens(at: number): void {
  now = at;
  const acts = waiting;
  waiting = [];
  for (const { act } of acts) act();
}
const times = (): (number | null)[] => waiting.map(({ ms }) => ms);

beforeEach(() => {
  now = 100;
  due = Infinity;
  woken = [];
  waiting = [];
  waker = createWaker(
    () => due,
    () => {
      woken.push(now);
      due = Infinity;
    },
    clock,
  );
});

describe('the engine is woken', () => {
  test('by a timer of whole milliseconds, and rounds of the loop for the rest; never early', () => {
    due = 110.6;
    waker.plan();
    expect(times()).toEqual([10]);
    // The timer fires early, as Node's do.
    happens(109.7);
    expect([woken, times()]).toEqual([[], [null]]);
    happens(110.5);
    expect([woken, times()]).toEqual([[], [null]]);
    happens(110.62);
    expect([woken, times()]).toEqual([[110.62], []]);
  });

  test('at once in the next round where it is due within a millisecond, or is late', () => {
    for (const at of [100.5, 100, 90]) {
      due = at;
      waker.plan();
      expect(times()).toEqual([null]);
      happens(Math.max(now, at));
    }
    expect(woken).toEqual([100.5, 100.5, 100.5]);
  });

  test('at another time if that changes, and not at all if nothing is due any more', () => {
    due = 150;
    waker.plan();
    waker.plan();
    expect(times()).toEqual([50]);
    due = 120;
    waker.plan();
    expect(times()).toEqual([20]);
    due = Infinity;
    waker.plan();
    expect(times()).toEqual([]);
    due = 130;
    waker.plan();
    waker.stop();
    expect(times()).toEqual([]);
  });

  test('much later than a timer can wait, and again after a timer that came much too early', () => {
    due = 100 + 2 ** 32;
    waker.plan();
    expect(times()).toEqual([2 ** 31 - 1]);
    happens(100 + 2 ** 31 - 1);
    expect(times()).toEqual([2 ** 31 - 1]);
    happens(100 + 2 ** 32 - 50);
    expect([woken, times()]).toEqual([[], [50]]);
  });

  test('once for each time that it asks for, also where it asks while it is woken', () => {
    const asked = [10, 20, 30];
    let at = 0;
    const again: number[] = [];
    const own = createWaker(
      () => asked[at] ?? Infinity,
      () => {
        again.push(now);
        at++;
        own.plan();
      },
      clock,
    );
    now = 0;
    own.plan();
    happens(10);
    happens(20);
    happens(30);
    expect([again, times()]).toEqual([[10, 20, 30], []]);
  });
});
