import { beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createUniverse, MOST_SOURCES, SOURCE_LOST_MS, type Source, type Universe } from './universe.js';

let universe: Universe;
let changes: string[];
const changed = (slot: number, level: number): void => void changes.push(`${slot}=${level}`);
const source = (key: string, priority: number, ...levels: number[]): Omit<Source, 'heardAt'> => ({
  key,
  name: key,
  address: '127.0.0.1',
  priority,
  levels: Uint8Array.from(levels),
});

beforeEach(() => {
  universe = createUniverse();
  changes = [];
});

test('a slot is said when its level changes, and only then', () => {
  universe.hear(source('desk', 100, 0, 128), 0, changed);
  universe.hear(source('desk', 100, 0, 128), 25, changed);
  universe.hear(source('desk', 100, 5, 128), 50, changed);
  expect(changes).toEqual(['2=128', '1=5']);
});

describe('several senders', () => {
  test('of one priority: each slot takes its highest level', () => {
    universe.hear(source('desk', 100, 10, 200), 0, changed);
    universe.hear(source('backup', 100, 90, 20), 1, changed);
    expect([...universe.levels.subarray(0, 2)]).toEqual([90, 200]);
  });

  test('of two priorities: the higher is heard alone, though it is darker', () => {
    universe.hear(source('desk', 100, 255, 255), 0, changed);
    universe.hear(source('override', 150, 3, 0), 1, changed);
    expect([...universe.levels.subarray(0, 2)]).toEqual([3, 0]);
    expect(universe.sources().map(({ name }) => name)).toEqual(['override', 'desk']);
  });

  test('one that stops gives way at once; one that is lost, after 2.5 seconds', () => {
    universe.hear(source('desk', 100, 40), 0, changed);
    universe.hear(source('override', 150, 3), 0, changed);
    universe.end('override', changed);
    expect(universe.levels[0]).toBe(40);
    universe.hear(source('override', 150, 3), 100, changed);
    universe.hear(source('desk', 100, 41), 100 + SOURCE_LOST_MS, changed);
    universe.tick(100 + SOURCE_LOST_MS, changed);
    expect(universe.levels[0]).toBe(3);
    universe.tick(101 + SOURCE_LOST_MS, changed);
    expect(universe.levels[0]).toBe(41);
  });
});

test('with the last sender gone its levels stay', () => {
  universe.hear(source('desk', 100, 77), 0, changed);
  universe.tick(10_000, changed);
  expect([universe.sources(), universe.levels[0]]).toEqual([[], 77]);
});

test('what is said of changes adds up to the levels, whoever speaks and stops', () => {
  const says = fc.record({
    key: fc.constantFrom('a', 'b', 'c'),
    priority: fc.constantFrom(90, 100),
    levels: fc.uint8Array({ maxLength: 6 }),
    stops: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(says, { maxLength: 20 }), (list) => {
      const heard = createUniverse();
      const told = new Uint8Array(512);
      const note = (slot: number, level: number): void => void (told[slot - 1] = level);
      list.forEach(({ stops, ...given }, now) =>
        stops
          ? heard.end(given.key, note)
          : heard.hear({ ...given, name: given.key, address: '127.0.0.1' }, now, note),
      );
      expect(told).toEqual(heard.levels);
    }),
  );
});

describe('so many sources and no more are heard', () => {
  const fill = (): void => {
    for (let i = 0; i < MOST_SOURCES; i++) universe.hear(source(`desk ${i}`, 100, 10), 0, changed);
  };

  test('one that is over that is passed over, and those that are known go on', () => {
    fill();
    universe.hear(source('one more', 200, 99), 1, changed);
    expect([universe.sources().length, universe.levels[0]]).toEqual([MOST_SOURCES, 10]);
    universe.hear(source('desk 0', 100, 20), 2, changed);
    expect(universe.levels[0]).toBe(20);
  });

  test('one that stops makes room', () => {
    fill();
    universe.end('desk 3', changed);
    universe.hear(source('one more', 200, 99), 1, changed);
    expect([universe.sources()[0]!.name, universe.levels[0]]).toEqual(['one more', 99]);
  });
});

test('a source that sends fewer levels than before holds the others no longer', () => {
  universe.hear(source('desk', 100, 1, 2, 3), 0, changed);
  universe.hear(source('desk', 100, 1), 1, changed);
  expect([...universe.levels.subarray(0, 3)]).toEqual([1, 0, 0]);
  expect(changes).toEqual(['1=1', '2=2', '3=3', '2=0', '3=0']);
});

test('what a source has sent is its own: who reuses the bytes changes nothing', () => {
  const bytes = Uint8Array.of(5, 6);
  universe.hear({ ...source('desk', 100), levels: bytes }, 0, changed);
  bytes.fill(99);
  universe.hear(source('backup', 90, 7), 1, changed);
  expect([...universe.levels.subarray(0, 2)]).toEqual([5, 6]);
});

test('sources of one priority are in the order of their keys; a tick before any is lost changes nothing', () => {
  universe.hear(source('b', 100, 1), 0, changed);
  universe.hear(source('a', 100, 1), 0, changed);
  universe.hear(source('c', 120, 1), 0, changed);
  universe.tick(SOURCE_LOST_MS, changed);
  expect(universe.sources().map(({ key }) => key)).toEqual(['c', 'a', 'b']);
  universe.end('nobody', changed);
  expect(changes).toEqual(['1=1']);
});
