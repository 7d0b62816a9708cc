import { expect, test } from '@jest/globals';
import { inflateSync } from 'fflate';
import { BATCH, createBatchWriter, NO_INDEX, PACKED_BATCH, readBatch } from '@tawny-signal/core/live/batch';
import { packBatch } from './packed-batch.js';

/** A batch of so many notes, each with an OSC message that it caused. */
function batchOf(notes: number): Buffer {
  const writer = createBatchWriter();
  const osc = new TextEncoder().encode('/tide/swell\0,f\0\0\x3f\x40\x80\0');
  for (let n = 0; n < notes; n++) {
    const heard = { seq: 2 * n + 1, cause: 0, later: false, at: 1.7e12 + n * 1.37, reason: '' };
    const pad = Uint8Array.of(0x99, 36 + (n % 16), 1 + (n % 127));
    writer.traffic({ ...heard, lineIndex: 1, senderIndex: NO_INDEX, direction: 'in', bytes: pad });
    const caused = { ...heard, seq: heard.seq + 1, cause: heard.seq };
    writer.traffic({ ...caused, lineIndex: 2, senderIndex: 5, direction: 'out', bytes: osc });
  }
  return Buffer.from(writer.take([], [])!);
}

test('what another package unpacks (RFC 1951) is the same batch, and it is much shorter', () => {
  const batch = batchOf(80);
  const packed = packBatch(batch);
  expect(packed[0]).toBe(PACKED_BATCH);
  const unpacked = inflateSync(packed.subarray(1));
  expect(readBatch(unpacked)).toEqual(readBatch(batch));
  expect(batch.length / packed.length).toBeGreaterThan(3);
});

test('a short batch goes as it is', () => {
  const batch = batchOf(1);
  expect(packBatch(batch)).toBe(batch);
  expect(batch[0]).toBe(BATCH);
});
