/** What is down on a line: note on and note off of MIDI 1.0 (Channel Voice Messages; from memory), of which the same note may come twice. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Signal } from '../signal.js';
import { createHeldNotes, type HeldNotes } from './held.js';

const note = (kind: 'noteOn' | 'noteOff', channel: number, number: number, value = 0): Signal => ({
  kind,
  channel,
  number,
  value,
});

let held: HeldNotes;
beforeEach(() => {
  held = createHeldNotes();
});

describe('the notes that are down', () => {
  test('are those that were pressed and not released, the longest held first', () => {
    expect(held.take(note('noteOn', 0, 60, 90), 10)).toBe(true);
    expect(held.take(note('noteOn', 9, 36, 1), 5)).toBe(true);
    expect(held.list()).toEqual([
      { channel: 9, number: 36, velocity: 1, since: 5 },
      { channel: 0, number: 60, velocity: 90, since: 10 },
    ]);
    expect(held.take(note('noteOff', 0, 60), 20)).toBe(true);
    expect(held.list().map(({ number }) => number)).toEqual([36]);
  });

  test('are told apart by their channel, and every one of both ranges is', () => {
    for (const [channel, number] of [
      [0, 127],
      [1, 0],
      [15, 127],
      [15, 0],
    ] as const)
      held.take(note('noteOn', channel, number, 1), 0);
    expect(held.list()).toHaveLength(4);
    expect(held.take(note('noteOff', 1, 127), 1)).toBe(false);
    expect(held.take(note('noteOff', 0, 127), 1)).toBe(true);
    expect(held.list().map(({ channel, number }) => [channel, number])).toEqual([
      [1, 0],
      [15, 127],
      [15, 0],
    ]);
  });

  test('that are pressed again are held once, since then', () => {
    held.take(note('noteOn', 0, 60, 90), 10);
    held.take(note('noteOn', 0, 60, 20), 30);
    expect(held.list()).toEqual([{ channel: 0, number: 60, velocity: 20, since: 30 }]);
  });

  test('are not changed by a release of what is not down, nor by anything that is no note', () => {
    expect(held.take(note('noteOff', 0, 61), 10)).toBe(false);
    expect(held.take({ kind: 'controlChange', channel: 0, number: 60, value: 1 }, 10)).toBe(false);
    expect(held.take({ kind: 'slot', slot: 1, level: 255 }, 10)).toBe(false);
    expect(held.list()).toEqual([]);
    held.take(note('noteOn', 0, 60, 90), 20);
    expect(held.take({ kind: 'polyPressure', channel: 0, number: 60, value: 0 }, 30)).toBe(false);
    expect(held.list()).toHaveLength(1);
  });

  test('are none once they are cleared, and it is said whether there were any', () => {
    expect(held.clear()).toBe(false);
    held.take(note('noteOn', 0, 60, 90), 10);
    expect(held.clear()).toBe(true);
    expect([held.list(), held.clear()]).toEqual([[], false]);
  });
});
