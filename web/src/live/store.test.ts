import { beforeEach, describe, expect, test } from '@jest/globals';
import { createBatchWriter, NO_SLOT, type TrafficRecord } from '@tawny-signal/core/live/batch';
import { createLiveStore, KEPT_TRAFFIC, type LiveStore, type Topic } from './store';

let store: LiveStore;
let told: Topic[];

beforeEach(() => {
  store = createLiveStore();
  told = [];
  for (const topic of ['connection', 'desk', 'lines', 'traffic', 'mappings', 'standIns'] as const) {
    store.subscribe(topic, () => told.push(topic));
  }
  store.setSlots({ lines: { pads: 0, water: 1 }, senders: { storm: 7 } });
});

const record = (seq: number, given: Partial<TrafficRecord> = {}): Omit<TrafficRecord, 'length'> => ({
  seq,
  cause: 0,
  at: seq,
  lineSlot: 0,
  senderSlot: NO_SLOT,
  direction: 'in',
  bytes: Uint8Array.of(0x99, 36, 97),
  reason: '',
  ...given,
});

function batch(records: Omit<TrafficRecord, 'length'>[]): Uint8Array {
  const writer = createBatchWriter(1 << 22);
  for (const one of records) writer.traffic(one);
  return writer.take(
    [{ slot: 0, inCount: records.length, outCount: 0, badCount: 0, inBytes: 3, outBytes: 0 }],
    [{ slot: 7, count: 2, at: 5, heard: 97, shaped: 0.5 }],
  )!;
}

describe('a batch', () => {
  test('names lines and mappings by their ids', () => {
    store.takeBatch(
      batch([record(1), record(2, { lineSlot: 1, senderSlot: 7, direction: 'out', cause: 1 })]),
      0,
    );
    expect(store.traffic().map(({ lineId, senderId }) => [lineId, senderId])).toEqual([
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

  test('gives a new list, so that what was frozen stays as it was', () => {
    store.takeBatch(batch([record(1)]), 0);
    const frozen = store.traffic();
    store.takeBatch(batch([record(2)]), 1);
    expect([frozen.length, store.traffic().length]).toEqual([1, 2]);
  });

  test('after batch never keeps more than it should, and keeps the newest', () => {
    const many = Array.from({ length: 6000 }, (_, at) => record(at));
    for (let round = 0; round < 8; round++) store.takeBatch(batch(many), round);
    expect(store.traffic().length).toBeLessThanOrEqual(KEPT_TRAFFIC * 1.25);
    expect(store.traffic().at(-1)?.seq).toBe(5999);
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
