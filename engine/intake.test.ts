/** Turns: what comes in on one line never keeps the others waiting. Our own rules, so the checks name no source. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { createIntakes, inSlices, type Intakes, type Work } from './intake.js';

let clock: number;
let later: (() => void)[];
let intakes: Intakes;
let done: string[];

beforeEach(() => {
  clock = 0;
  later = [];
  done = [];
  intakes = createIntakes(
    () => clock,
    (act) => later.push(act),
  );
});

/** One round of the event loop. */
function turn(): void {
  const acts = later;
  later = [];
  for (const act of acts) act();
}

/** Work of several parts, each of which takes a time. */
function work(name: string, parts: number, ms: number): Work {
  let part = 0;
  return (until) => {
    while (part < parts) {
      part++;
      clock += ms;
      done.push(name);
      if (part < parts && clock >= until) return false;
    }
    return true;
  };
}

describe('what comes in', () => {
  test('is done at once while its line has time left', () => {
    const line = intakes.open();
    for (let i = 0; i < 5; i++) expect(line.take(work('note', 1, 0.25), 3)).toBe(true);
    expect(done).toHaveLength(5);
  });

  test('waits once its line had its turn, in order, and is done in the next ones', () => {
    const line = intakes.open();
    line.take(work('flood', 100, 0.25), 100);
    line.take(work('after', 1, 0.25), 3);
    // Its turn is 2 ms.
    expect(done).toHaveLength(8);
    expect(done).not.toContain('after');
    for (let i = 0; i < 30; i++) turn();
    expect(done).toHaveLength(101);
    expect(done.at(-1)).toBe('after');
  });

  test('knows when it arrived, however long it waits', () => {
    const line = intakes.open();
    const arrived: number[] = [];
    const asks = (ms: number): Work => {
      return () => {
        arrived.push(line.arrivedAt());
        clock += ms;
        return true;
      };
    };
    clock = 10;
    line.take(asks(5), 3);
    line.take(asks(1), 3);
    line.take(asks(1), 3, 4);
    expect(arrived).toEqual([10]);
    clock = 40;
    expect(line.arrivedAt()).toBe(40);
    turn();
    expect(arrived).toEqual([10, 15, 11]);
    expect(line.arrivedAt()).toBe(clock);
  });

  test('on one line is felt there only: another line is served between its turns', () => {
    const [flooded, calm] = [intakes.open(), intakes.open()];
    flooded.take(work('flood', 1000, 1), 1000);
    for (let i = 0; i < 5; i++) {
      const before = clock;
      calm.take(work('calm', 1, 0), 3);
      expect(done.at(-1)).toBe('calm');
      expect(clock).toBe(before);
      turn();
    }
  });

  test('and is more than may wait is dropped, and counted', () => {
    const line = intakes.open();
    line.take(work('flood', 100, 1), 1);
    let taken = 0;
    for (let i = 0; i < 5000; i++) if (line.take(work('more', 1, 0), 1)) taken++;
    expect([taken, line.dropped()]).toEqual([4095, 905]);
    for (let i = 0; i < 200; i++) turn();
    expect(done).toHaveLength(100 + 4095);
    expect(line.take(work('again', 1, 0), 1)).toBe(true);
  });

  test('of more bytes than may wait is dropped too', () => {
    const line = intakes.open();
    line.take(work('flood', 100, 1), 1);
    expect([line.take(work('large', 1, 0), 5 << 20), line.dropped()]).toEqual([false, 1]);
  });

  test('from a sender that can be held up holds it up until nothing waits', () => {
    const line = intakes.open();
    let resumed = 0;
    line.take(work('flood', 20, 1), 1 << 19);
    expect(line.isBehind()).toBe(true);
    line.whenEmpty(() => resumed++);
    expect(resumed).toBe(0);
    for (let i = 0; i < 20; i++) turn();
    expect([resumed, line.isBehind()]).toEqual([1, false]);
  });

  test('on a line that was closed is not done any more', () => {
    const line = intakes.open();
    line.take(work('flood', 100, 1), 1);
    const before = done.length;
    line.close();
    for (let i = 0; i < 50; i++) turn();
    expect(done).toHaveLength(before);
    expect(line.take(work('late', 1, 0), 1)).toBe(false);
  });
});

test('a stream is taken a slice at a time, and none of it twice', () => {
  const bytes = Uint8Array.from({ length: 5000 }, (_, at) => at & 127);
  const got: number[] = [];
  const step = inSlices(
    bytes,
    (slice) => {
      clock += 1;
      got.push(...slice);
    },
    () => clock,
  );
  let rounds = 1;
  for (; !step(clock + 3); rounds++);
  expect(got).toEqual([...bytes]);
  expect(rounds).toBeGreaterThan(2);
});
