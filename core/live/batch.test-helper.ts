/** Batches for tests. */
import { createBatchWriter, NO_INDEX, type TrafficRecord } from './batch.js';

/** Writes a batch with these records; each is a press of pad 36 on line 0 but for what is given. */
export function batchOf(...records: Partial<TrafficRecord>[]): Uint8Array {
  const writer = createBatchWriter();
  for (const record of records)
    writer.traffic({
      seq: 1,
      cause: 0,
      later: false,
      at: 1000,
      lineIndex: 0,
      senderIndex: NO_INDEX,
      direction: 'in',
      bytes: Uint8Array.of(0x99, 36, 97),
      reason: '',
      ...record,
    });
  return writer.take([], [])!;
}
