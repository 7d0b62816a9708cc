/** Values on their way. The rules are our own, so the checks name no source; the values between are plain arithmetic. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { MOVE_MS } from '../time/pace.js';
import { inMs } from '../time/span.js';
import { createRamps, type Ramps, type RampTo } from './ramps.js';

let ramps: Ramps;
let sent: [string, number][];
beforeEach(() => {
  ramps = createRamps();
  sent = [];
});

const to = (target: string, value: number, ms: number, rest: Partial<RampTo> = {}): RampTo => ({
  target,
  to: value,
  over: inMs(ms),
  apply: (now) => sent.push([target, now]),
  owner: 'a moment',
  ...rest,
});
/** What was sent since the last call. */
const said = (): [string, number][] => sent.splice(0);

/** Wakes as the engine does: when it is asked to. */
function until(end: number): void {
  for (let at = ramps.wakeAt(); at <= end; at = ramps.wakeAt()) ramps.wake(at);
}

describe('a ramp', () => {
  test('begins at 0 where nothing was sent, goes straight, and ends exactly where it should', () => {
    ramps.start(to('fog', 1, 1000), 500);
    expect([said(), ramps.wakeAt()]).toEqual([[], 500 + MOVE_MS]);
    ramps.wake(750);
    expect(said()).toEqual([['fog', 0.25]]);
    expect(ramps.wakeAt()).toBe(750 + MOVE_MS);
    until(5000);
    expect(said().at(-1)).toEqual(['fog', 1]);
    expect(ramps.wakeAt()).toBe(Infinity);
  });

  test('is not woken before its time', () => {
    ramps.start(to('fog', 1, 1000), 0);
    ramps.wake(MOVE_MS - 1);
    expect(said()).toEqual([]);
  });

  test('that is shorter than a step ends at its end, and no later', () => {
    ramps.start(to('fog', 1, 5), 0);
    expect(ramps.wakeAt()).toBe(5);
    ramps.start(to('sky', 1, MOVE_MS + 3), 0);
    ramps.wake(MOVE_MS);
    expect(ramps.wakeAt()).toBe(MOVE_MS + 3);
  });

  test('with no time is there at once, ends the one that was on its way, and is where the next one begins', () => {
    ramps.start(to('fog', 1, 1000), 0);
    ramps.start(to('fog', 0.6, 0), 100);
    expect(said()).toEqual([['fog', 0.6]]);
    ramps.wake(500);
    expect([said(), ramps.wakeAt()]).toEqual([[], Infinity]);
    ramps.start(to('fog', 1, 100), 600);
    ramps.wake(650);
    expect(said()).toEqual([['fog', 0.8]]);
  });

  test('takes over from where another one on the same place is', () => {
    ramps.start(to('fog', 1, 1000), 0);
    ramps.wake(500);
    ramps.start(to('fog', 0, 100), 500);
    said();
    ramps.wake(550);
    expect(said()).toEqual([['fog', 0.25]]);
  });

  test('goes along its curve, whose end is the value itself', () => {
    ramps.start(to('fog', 4, 100, { curve: (part) => part * part }), 0);
    ramps.wake(50);
    expect(said()).toEqual([['fog', 1]]);
    ramps.start(to('sky', 0.3, 100, { curve: () => 0.5 }), 100);
    until(300);
    expect(
      said()
        .filter(([target]) => target === 'sky')
        .at(-1),
    ).toEqual(['sky', 0.3]);
  });
});

describe('what somebody else sends to the place', () => {
  test('ends the ramp where it is a set, and is where the next one begins', () => {
    ramps.start(to('fog', 1, 1000), 0);
    ramps.set('fog', 0.5);
    ramps.wake(500);
    expect(said()).toEqual([]);
    ramps.start(to('fog', 1, 100), 600);
    ramps.wake(650);
    expect(said()).toEqual([['fog', 0.75]]);
  });

  test('is where the next one begins, and does not disturb one that is on its way', () => {
    ramps.saw('fog', 0.5);
    ramps.start(to('fog', 1, 1000), 0);
    ramps.saw('fog', 0);
    ramps.wake(500);
    expect(said()).toEqual([['fog', 0.75]]);
    // When it is over, what it ended at is where the next one begins.
    until(2000);
    said();
    ramps.start(to('fog', 0, 100), 2000);
    ramps.wake(2050);
    expect(said()).toEqual([['fog', 0.5]]);
  });
});

test('those of an owner are ended where they are, and the others go on', () => {
  ramps.start(to('fog', 1, 1000), 0);
  ramps.start(to('sky', 1, 1000, { owner: 'another' }), 0);
  ramps.stop((owner) => owner === 'a moment');
  ramps.wake(500);
  expect(said()).toEqual([['sky', 0.5]]);
  expect(ramps.wakeAt()).toBe(500 + MOVE_MS);
  ramps.stop(() => true);
  expect(ramps.wakeAt()).toBe(Infinity);
  ramps.wake(5000);
  expect(said()).toEqual([]);
});
