/** What a browser that connects later is told of what passed before. */
import { expect, test } from '@jest/globals';
import { readBatch, type TrafficRecord } from '@tawny-signal/core/live/batch';
import { batchOf } from '@tawny-signal/core/live/batch.test-helper';
import { createLastPassed } from './last-passed.js';

const out = (seq: number, cause: number): Partial<TrafficRecord> => ({ seq, cause, direction: 'out' });

test('the last input with what it caused, and what left last', () => {
  const passed = createLastPassed();
  expect(passed.batch()).toBeNull();
  passed.take(batchOf({ seq: 1 }, { seq: 5 }, out(6, 5)));
  passed.take(batchOf({ seq: 7, bytes: Uint8Array.of(0x89, 36, 0) }, out(9, 0), out(10, 0)));
  expect(readBatch(passed.batch()!).traffic.map(({ seq }) => seq)).toEqual([5, 6, 10]);
});

test('not more than a few of what one input caused', () => {
  const passed = createLastPassed();
  passed.take(batchOf({ seq: 5 }, ...Array.from({ length: 500 }, (_, n) => out(6 + n, 5))));
  expect(readBatch(passed.batch()!).traffic.length).toBeLessThan(20);
});

test('all of it after a mapping was added, and nothing once the numbers of the lines mean something else', () => {
  const passed = createLastPassed();
  passed.indexes({ lines: { pads: 0 }, senders: { storm: 0 } }, false);
  passed.take(batchOf({ seq: 5 }));
  passed.indexes({ lines: { pads: 0, water: 1 }, senders: { storm: 0, fog: 1 } }, false);
  expect(passed.batch()).not.toBeNull();
  passed.indexes({ lines: { pads: 1, water: 0 }, senders: { storm: 0, fog: 1 } }, false);
  expect(passed.batch()).toBeNull();
});
