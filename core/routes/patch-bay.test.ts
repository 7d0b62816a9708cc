/** All routes at work, without the engine around them. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import { emptyShow, type Show } from '../show.js';
import type { Route } from '../show/route.js';
import type { Signal } from '../signal.js';
import { CERTAIN, SUSPECT } from './loop-guard.js';
import { createPatchBay, type PatchBay } from './patch-bay.js';
import { newRoute } from './words.js';

const LINES: Record<string, number> = { a: 0, b: 1, c: 2 };
const route = (id: string, from: string | null, to: string | null, change: object = {}): Route =>
  ({ ...newRoute('midi', from, to), id, ...change }) as Route;
const note = (kind: 'noteOn' | 'noteOff', number: number, channel = 0): Signal => ({
  kind,
  channel,
  number,
  value: kind === 'noteOn' ? 90 : 0,
});

let bay: PatchBay;
/** What left: route, line, kind and number; a muted line in brackets. */
let left: string[];
const emit = (line: number, signal: Signal, id: string, muted: boolean): void => {
  const words = `${id} ${line} ${signal.kind} ${'number' in signal ? signal.number : ''}`.trim();
  left.push(muted ? `[${words}]` : words);
};
function load(routes: Route[], muted: string[] = []): void {
  const show: Show = { ...emptyShow('Made up'), routes };
  bay.load(show, (id) => (id === null ? -1 : (LINES[id] ?? -1)), new Set(muted), emit);
}
function pass(signal: Signal, line = 0, now = 0): string[] {
  left = [];
  bay.pass(line, signal, now, emit);
  return left;
}
beforeEach(() => {
  bay = createPatchBay();
  left = [];
});

describe('routes', () => {
  test('pass on in their order, from their line to theirs', () => {
    load([route('r', 'a', 'b'), route('s', 'a', 'c'), route('t', 'b', 'c')]);
    expect(pass(note('noteOn', 60))).toEqual(['r 1 noteOn 60', 's 2 noteOn 60']);
    expect(pass(note('noteOn', 60), 1)).toEqual(['t 2 noteOn 60']);
    expect(pass(note('noteOn', 60), 2)).toEqual([]);
  });

  test('that are off, or have no line at one end, pass nothing', () => {
    load([
      route('off', 'a', 'b', { on: false }),
      route('from', null, 'b'),
      route('to', 'a', null),
      route('gone', 'a', 'gone'),
    ]);
    expect(pass(note('noteOn', 60))).toEqual([]);
    expect(pass(note('noteOn', 60), -1)).toEqual([]);
  });

  test('hear nothing on a muted line; what leaves for one is marked, and does not sound', () => {
    load([route('r', 'a', 'b'), route('s', 'c', 'b')], ['b', 'c']);
    expect(pass(note('noteOn', 60))).toEqual(['[r 1 noteOn 60]']);
    expect(pass(note('noteOn', 60), 2)).toEqual([]);
    left = [];
    bay.releaseAll(emit);
    expect(left).toEqual([]);
  });
});

describe('notes that sound', () => {
  test('are released once: by Panic, by the line that they were heard on, and not by their own release again', () => {
    load([route('r', 'a', 'b'), route('s', 'c', 'b')]);
    pass(note('noteOn', 60));
    pass(note('noteOn', 61));
    pass(note('noteOff', 61));
    pass(note('noteOn', 62), 2);
    left = [];
    bay.lineGone(0, emit);
    expect(left).toEqual(['r 1 noteOff 60']);
    left = [];
    bay.releaseAll(emit);
    expect(left).toEqual(['s 1 noteOff 62']);
    left = [];
    bay.releaseAll(emit);
    expect(left).toEqual([]);
  });

  test('go on where the route is the same, and are released where it is another', () => {
    const before = route('r', 'a', 'b');
    load([before]);
    pass(note('noteOn', 60));
    left = [];
    load([{ ...before }]);
    expect(left).toEqual([]);
    load([{ ...before, transpose: 1 } as Route]);
    expect(left).toEqual(['r 1 noteOff 60']);
    for (const change of [{ toId: 'c' }, { fromId: 'c' }]) {
      load([before]);
      pass(note('noteOn', 60));
      left = [];
      load([{ ...before, ...change }]);
      expect(left).toEqual(['r 1 noteOff 60']);
    }
    load([before]);
    pass(note('noteOn', 60));
    left = [];
    load([before], ['b']);
    expect(left).toEqual(['r 1 noteOff 60']);
    load([before]);
    pass(note('noteOn', 60));
    left = [];
    load([before], ['a']);
    expect(left).toEqual(['r 1 noteOff 60']);
  });
});

describe('a message that comes round', () => {
  /** Lets a message come back through whoever is outside, each round 5 ms later, until it is held up. @returns when */
  function comeRound(signal: Signal, from: number): number {
    for (let now = from; ; now += 5) if (pass(signal, 0, now).length === 0) return now;
  }

  test('has its route asked; what was kept is sent on where it was silent, and it is cut the second time', () => {
    load([route('r', 'a', 'b')]);
    let now = comeRound(note('noteOn', 60), 0);
    expect(now).toBe(5 * SUSPECT);
    expect(pass(note('noteOn', 61), 0, now + 1)).toEqual([]);
    for (let silent = 1; silent < CERTAIN; silent++) {
      const at = bay.wakeAt();
      expect(at).toBeGreaterThan(now + 55);
      left = [];
      bay.wake(at - 1, emit);
      expect(left).toEqual([]);
      bay.wake(at, emit);
      expect(left).toEqual(['r 1 noteOn 60', 'r 1 noteOn 61']);
      expect([bay.wakeAt(), bay.cut().size]).toEqual([Infinity, 0]);
      now = comeRound(note('noteOn', 60), at + 5);
    }
    const at = bay.wakeAt();
    left = [];
    bay.wake(at, emit);
    expect(left).toEqual(['r 1 noteOff 60', 'r 1 noteOff 61']);
    expect([...bay.cut()]).toEqual([['r', at]]);
    expect(pass(note('noteOn', 70), 0, at + 1)).toEqual([]);
    expect([bay.restore('other'), bay.restore('r'), bay.restore('r')]).toEqual([false, true, false]);
    expect(pass(note('noteOn', 70), 0, at + 2)).toEqual(['r 1 noteOn 70']);
  });

  test('through two routes at different times has each decided at its own', () => {
    load([route('r', 'a', 'b'), route('s', 'c', 'b')]);
    const first = comeRound(note('noteOn', 60), 0);
    for (let now = first + 10; pass(note('noteOn', 70), 2, now).length > 0; now += 5);
    const at = bay.wakeAt();
    left = [];
    bay.wake(at, emit);
    expect(left).toEqual(['r 1 noteOn 60']);
    const next = bay.wakeAt();
    expect(next).toBeGreaterThan(at);
    left = [];
    bay.wake(next, emit);
    expect([left, bay.wakeAt()]).toEqual([['s 1 noteOn 70'], Infinity]);
    // What was sent on is not sent again.
    comeRound(note('noteOn', 61), next + 3000);
    left = [];
    bay.wake(bay.wakeAt(), emit);
    expect(left).toEqual(['r 1 noteOn 61']);
  });

  test('through a route that is changed or taken out meanwhile is forgotten', () => {
    load([route('r', 'a', 'b')]);
    const now = comeRound(note('noteOn', 60), 0);
    expect(bay.wakeAt()).toBeLessThan(Infinity);
    load([route('r', 'a', 'b', { transpose: 1 })]);
    expect(bay.wakeAt()).toBe(Infinity);
    expect(pass(note('noteOn', 80), 0, now + 1)).toEqual(['r 1 noteOn 81']);
  });

  test('through a route that is the same goes on being asked through an edit of another', () => {
    load([route('r', 'a', 'b')]);
    comeRound(note('noteOn', 60), 0);
    const at = bay.wakeAt();
    load([route('r', 'a', 'b'), route('s', 'c', 'b')]);
    expect(bay.wakeAt()).toBe(at);
  });

  test('a cut is forgotten with its route', () => {
    load([route('r', 'a', 'b')]);
    let now = 0;
    for (let silent = 0; silent < CERTAIN; silent++) {
      comeRound(note('noteOn', 60), now);
      now = bay.wakeAt();
      bay.wake(now, emit);
      now += 5;
    }
    expect(bay.cut().has('r')).toBe(true);
    load([]);
    expect(bay.cut().size).toBe(0);
  });
});
