/** Batches for browsers on other machines, compressed: there are many of them, and they share one wireless network. */
import { deflateRawSync } from 'node:zlib';
import { PACKED_BATCH } from '@tawny-signal/core/live/batch';

/** Little is gained by compressing less than that. */
const LEAST_BYTES = 256;

/** @returns a batch, compressed where that makes it shorter: PACKED_BATCH, then raw DEFLATE (RFC 1951) */
export function packBatch(bytes: Buffer): Buffer {
  if (bytes.length < LEAST_BYTES) return bytes;
  const packed = deflateRawSync(bytes, { level: 1 });
  return packed.length + 1 < bytes.length ? Buffer.concat([Uint8Array.of(PACKED_BATCH), packed]) : bytes;
}
