/** The last event at the bottom of every page: what came in last stays, whatever leaves afterwards, and through a reload. */
import { expect, test } from '@jest/globals';
import { openBatch, pastBatch, type TrafficRecord } from '@tawny-signal/core/live/batch';
import { batchOf } from '@tawny-signal/core/live/batch.test-helper';
import { createLiveStore } from './store';

const RELEASE = Uint8Array.of(0x89, 36, 0);
const LEVEL = Uint8Array.of(1, 2, 3);

const out = (seq: number, cause: number, later = false): Partial<TrafficRecord> => ({
  seq,
  cause,
  later,
  lineIndex: 1,
  direction: 'out',
  bytes: LEVEL,
});

function store(): ReturnType<typeof createLiveStore> {
  const made = createLiveStore();
  made.setIndexes({ lines: { pads: 0, rig: 1 }, senders: {} }, false);
  return made;
}
const seen = (of: ReturnType<typeof store>) => {
  const { heard, sent, sentCount, left } = of.lastEvents();
  return {
    heard: heard?.seq ?? null,
    sent: sent.map(({ seq }) => seq),
    sentCount,
    left: left.at(-1)?.seq ?? null,
  };
};

test('what came in last stays while a fade sends hundreds of levels', () => {
  const live = store();
  live.takeBatch(batchOf({ seq: 5 }, out(6, 5), out(7, 5)), 0);
  live.takeBatch(batchOf(...Array.from({ length: 600 }, (_, n) => out(10 + n, 5, true))), 1);
  expect(seen(live)).toEqual({ heard: 5, sent: [6, 7], sentCount: 2, left: 609 });
});

test('a release hides neither the press nor what it did', () => {
  const live = store();
  live.takeBatch(batchOf({ seq: 5 }, out(6, 5), { seq: 8, bytes: RELEASE }), 0);
  expect(seen(live)).toMatchObject({ heard: 5, sent: [6] });
});

test('of what one press causes the first few are named, and all are counted', () => {
  const live = store();
  live.takeBatch(batchOf({ seq: 5 }, ...Array.from({ length: 40 }, (_, n) => out(6 + n, 5))), 0);
  expect(live.lastEvents().sent).toHaveLength(8);
  expect(live.lastEvents().sentCount).toBe(40);
});

test('what Go sent is what left last, though nothing has come in', () => {
  const live = store();
  live.takeBatch(batchOf(out(3, 0)), 0);
  expect(seen(live)).toEqual({ heard: null, sent: [], sentCount: 0, left: 3 });
});

test('a browser that connects later takes over what passed last, and one that was there is not told again', () => {
  const batch = batchOf({ seq: 5 }, out(6, 5));
  const past = pastBatch(openBatch(batch).records.map((at, n, all) => batch.subarray(at, all[n + 1])));
  const late = store();
  late.takeBatch(past, 0);
  expect(seen(late)).toMatchObject({ heard: 5, sent: [6] });
  const there = store();
  there.takeBatch(batch, 0);
  there.takeBatch(past, 1);
  expect(there.traffic().end).toBe(2);
});
