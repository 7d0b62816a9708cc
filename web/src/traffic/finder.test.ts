import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { viewOfList, type Passing, type TrafficView } from '../live/traffic-log';
import { createFinder, findAll } from './finder';
import { EVERYTHING, filterTest, type TrafficFilter } from './filter';
import { fogPacket, madeUpShow, passing } from './passing.test-helper';

const show = madeUpShow();
const midi = (seq: number, ...bytes: number[]): Passing => passing(seq, { bytes: Uint8Array.from(bytes) });

const TRAFFIC = [
  midi(1, 0x99, 36, 97),
  midi(2, 0xb1, 21, 90),
  passing(3, { lineId: 'water', direction: 'out', bytes: fogPacket, cause: 2 }),
  midi(4, 0x89, 36, 0),
  midi(5, 0xe1, 0, 64),
  midi(6, 0xd9, 40),
  midi(7, 0xf8),
  midi(8, 0xb2, 22, 1),
];
const found = (given: Partial<TrafficFilter>): number[] =>
  findAll(viewOfList(TRAFFIC), filterTest({ ...EVERYTHING, ...given }, show)).map(({ seq }) => seq);

test('traffic is filtered by kind, channel and number', () => {
  expect(found({ kind: 'notes' })).toEqual([1, 4]);
  expect(found({ kind: 'controls' })).toEqual([2, 8]);
  expect(found({ kind: 'osc' })).toEqual([3]);
  expect(found({ kind: 'clock' })).toEqual([7]);
  expect(found({ kind: 'pressure' })).toEqual([6]);
  expect(found({ channels: [1, 1] })).toEqual([2, 5]);
  expect(found({ numbers: [21, 36] })).toEqual([1, 2, 4, 8]);
  expect(found({ kind: 'controls', channels: [0, 1], numbers: [21, 21] })).toEqual([2]);
  expect(found({})).toHaveLength(TRAFFIC.length);
});

describe('a finder', () => {
  const all = (finder: ReturnType<typeof createFinder>): number[] =>
    Array.from({ length: finder.count }, (_, place) => finder.at(place));

  test('finds the same, whenever it began, however it looks back, and whatever is dropped meanwhile', () => {
    const steps = fc.array(fc.record({ more: fc.nat(20), drop: fc.nat(15), back: fc.nat(12) }), {
      minLength: 1,
      maxLength: 20,
    });
    fc.assert(
      fc.property(fc.nat(30), steps, (before, then) => {
        const records = Array.from({ length: before }, (_, n) => passing(n, {}));
        let first = 0;
        const view = (): TrafficView => ({ first, end: records.length, at: (n) => records[n]! });
        const wants = ({ seq }: Passing): boolean => seq % 3 === 0;
        const finder = createFinder(wants);
        finder.follow(view());
        for (const { more, drop, back } of then) {
          for (let n = 0; n < more; n++) records.push(passing(records.length, {}));
          first = Math.min(records.length, first + drop);
          finder.follow(view());
          finder.back(back);
        }
        while (finder.back(7));
        const wanted = findAll(view(), wants).map(({ seq }) => seq);
        expect(all(finder)).toEqual(wanted.toReversed());
      }),
    );
  });

  test('that wants everything has it at once', () => {
    const finder = createFinder(null);
    finder.follow(viewOfList(TRAFFIC));
    expect(finder.back(10)).toBe(false);
    expect([finder.count, finder.at(0), finder.at(7)]).toEqual([8, 7, 0]);
  });
});
