import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  createBatchWriter,
  DIRECTIONS,
  NO_INDEX,
  readBatch,
  RECORD_BYTES,
  type TrafficRecord,
} from './batch.js';

const u32 = fc.integer({ min: 0, max: 0xffff_ffff });
const records = fc.record({
  seq: u32,
  cause: u32,
  later: fc.boolean(),
  at: fc.double({ min: 0, max: 4e12, noNaN: true }),
  lineIndex: fc.nat(0xffff),
  senderIndex: u32,
  direction: fc.constantFrom(...DIRECTIONS),
  bytes: fc.uint8Array({ maxLength: RECORD_BYTES }),
  reason: fc.string({ maxLength: 60 }),
});
const totals = fc.record({
  index: fc.nat(0xffff),
  inCount: u32,
  outCount: u32,
  badCount: u32,
  inBytes: fc.nat(),
  outBytes: fc.nat(),
});
const fired = fc.record({
  index: u32,
  count: u32,
  at: fc.double({ noNaN: true }),
  heard: fc.double({ noNaN: true }),
  shaped: fc.double({ noNaN: true }),
});

test('a batch is read as it was written', () => {
  fc.assert(
    fc.property(
      fc.array(records, { maxLength: 12 }),
      fc.array(totals, { maxLength: 4 }),
      fc.array(fired, { maxLength: 4 }),
      (traffic, lines, mappings) => {
        const writer = createBatchWriter();
        for (const record of traffic) writer.traffic(record);
        const bytes = writer.take(lines, mappings);
        if (traffic.length + lines.length + mappings.length === 0) return expect(bytes).toBeNull();
        const withLength = traffic.map((record): TrafficRecord => ({
          ...record,
          length: record.bytes.length,
        }));
        expect(readBatch(bytes!)).toEqual({ dropped: 0, traffic: withLength, lines, mappings });
      },
    ),
  );
});

const record = (bytes: Uint8Array): Omit<TrafficRecord, 'length'> => ({
  seq: 1,
  cause: 0,
  later: false,
  at: 1,
  lineIndex: 0,
  senderIndex: NO_INDEX,
  direction: 'in',
  bytes,
  reason: '',
});

test('a long message is kept in part, and its length said', () => {
  const writer = createBatchWriter();
  writer.traffic(record(new Uint8Array(1000).fill(7)));
  const [kept] = readBatch(writer.take([], [])!).traffic;
  expect([kept!.length, kept!.bytes.length]).toEqual([1000, RECORD_BYTES]);
});

test('what there is no room for is counted, and the next batch has room again', () => {
  const writer = createBatchWriter(100);
  for (let i = 0; i < 5; i++) writer.traffic(record(Uint8Array.of(1, 2, 3)));
  expect(readBatch(writer.take([], [])!)).toMatchObject({ dropped: 3, traffic: [{}, {}] });
  writer.traffic(record(Uint8Array.of(1)));
  expect(readBatch(writer.take([], [])!)).toMatchObject({ dropped: 0, traffic: [{}] });
});
