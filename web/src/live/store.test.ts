import { beforeEach, describe, expect, test } from '@jest/globals';
import { createBatchWriter, NO_INDEX, type TrafficRecord } from '@tawny-signal/core/live/batch';
import { createLiveStore, type LiveStore, type Topic } from './store';
import { KEPT_TRAFFIC, type Passing } from './traffic-log';

let store: LiveStore;
let told: Topic[];

beforeEach(() => {
  store = createLiveStore();
  told = [];
  for (const topic of ['connection', 'desk', 'lines', 'traffic', 'mappings', 'standIns'] as const) {
    store.subscribe(topic, () => told.push(topic));
  }
  store.setIndexes({ lines: { pads: 0, water: 1 }, senders: { storm: 7 } }, false);
});

const record = (seq: number, given: Partial<TrafficRecord> = {}): Omit<TrafficRecord, 'length'> => ({
  seq,
  cause: 0,
  later: false,
  at: seq,
  lineIndex: 0,
  senderIndex: NO_INDEX,
  direction: 'in',
  bytes: Uint8Array.of(0x99, 36, 97),
  reason: '',
  ...given,
});

function batch(records: Omit<TrafficRecord, 'length'>[]): Uint8Array {
  const writer = createBatchWriter(1 << 22);
  for (const one of records) writer.traffic(one);
  return writer.take(
    [{ index: 0, inCount: records.length, outCount: 0, badCount: 0, inBytes: 3, outBytes: 0 }],
    [{ index: 7, count: 2, at: 5, heard: 97, shaped: 0.5 }],
  )!;
}

function all(): Passing[] {
  const { first, end, at } = store.traffic();
  return Array.from({ length: end - first }, (_, n) => at(first + n));
}

describe('a batch', () => {
  test('names lines and mappings by their ids', () => {
    store.takeBatch(
      batch([record(1), record(2, { lineIndex: 1, senderIndex: 7, direction: 'out', cause: 1 })]),
      0,
    );
    expect(all().map(({ lineId, senderId }) => [lineId, senderId])).toEqual([
      ['pads', null],
      ['water', 'storm'],
    ]);
    expect(store.fired('storm')).toMatchObject({ count: 2, heard: 97, shaped: 0.5 });
    expect(store.totals('pads')?.inCount).toBe(2);
  });

  test('tells those who look at what changed, once each', () => {
    store.takeBatch(batch([record(1), record(2), record(3)]), 0);
    expect(told.sort()).toEqual(['lines', 'mappings', 'traffic']);
  });

  test('gives a new view, so that what was frozen stays as it was', () => {
    store.takeBatch(batch([record(1)]), 0);
    const frozen = store.traffic();
    store.takeBatch(batch([record(2)]), 1);
    expect([frozen.end, store.traffic().end]).toEqual([1, 2]);
    for (let round = 0; round < 30; round++)
      store.takeBatch(batch(Array.from({ length: 6000 }, (_, at) => record(at))), round);
    expect(frozen.at(0).seq).toBe(1);
  });

  test('keeps the last 100,000, whatever they say, and not many more', () => {
    for (let round = 0; round < 30; round++) {
      store.takeBatch(
        batch(
          Array.from({ length: 6000 }, (_, at) =>
            record(round * 6000 + at, { lineIndex: round < 15 ? 0 : 1 }),
          ),
        ),
        round,
      );
      if (round === 14) store.setIndexes({ lines: { water: 0, pads: 1 }, senders: {} }, false);
    }
    const { first, end, at } = store.traffic();
    expect(end - first).toBeGreaterThanOrEqual(KEPT_TRAFFIC);
    expect(end - first).toBeLessThan(KEPT_TRAFFIC * 1.1);
    for (const n of [first, first + 1, 100_123, end - 1]) expect(at(n).seq).toBe(n);
    // Numbers of lines were given anew half way: what came before keeps its names.
    expect([at(first).lineId, at(89_999).lineId, at(90_000).lineId]).toEqual(['pads', 'pads', 'pads']);
  });
});

test('without a connection nothing is said to be open', () => {
  store.setLineStates({ pads: { state: 'open', trouble: '' } });
  store.setStandIn('water-screen', { port: 9000 });
  store.setConnected(false);
  expect([store.lineState('pads'), store.standIn('water-screen')]).toEqual([null, null]);
});

test('a stand-in that is gone is gone', () => {
  store.setStandIn('water-screen', { port: 9000 });
  store.setStandIn('water-screen', null);
  expect(store.standIn('water-screen')).toBeNull();
});
