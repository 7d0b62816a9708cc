/**
 * The last 100,000 messages. They are kept in blocks of the bytes that they arrived in, and decoded when they are shown: a hundred thousand take a
 * few megabytes, and nothing is copied when a batch arrives.
 */
import { readRecord, sizeOfRecord, type OpenBatch, type TrafficRecord } from '@tawny-signal/core/live/batch';

/** A traffic record with the names of its line and sender. */
export interface Passing extends Omit<TrafficRecord, 'lineIndex' | 'senderIndex'> {
  lineId: string;
  /** The mapping or route that sent it. */
  senderId: string | null;
}

/** The traffic at one time: records from `first` to `end`, without `end`. */
export interface TrafficView {
  readonly first: number;
  readonly end: number;
  /** @param n from `first` on, below `end` */
  at(n: number): Passing;
}

/** Names of lines and senders, by the numbers that batches give them. */
export interface Names {
  lines: ReadonlyMap<number, string>;
  senders: ReadonlyMap<number, string>;
}

export interface TrafficLog {
  view(): TrafficView;
  /** @param bytes of the batch */
  add(batch: OpenBatch, bytes: Uint8Array, names: Names): void;
}

/** The least number of records that are kept. */
export const KEPT_TRAFFIC = 100_000;
const BLOCK_RECORDS = 4096;
const BLOCK_BYTES = 256 * 1024;

interface Block {
  from: number;
  count: number;
  used: number;
  bytes: Uint8Array;
  view: DataView;
  offsets: Uint32Array;
  names: Names;
}

function newBlock(from: number, names: Names): Block {
  const bytes = new Uint8Array(BLOCK_BYTES);
  const view = new DataView(bytes.buffer);
  return { from, count: 0, used: 0, bytes, view, offsets: new Uint32Array(BLOCK_RECORDS), names };
}

function read(block: Block, n: number): Passing {
  const { lineIndex, senderIndex, ...rest } = readRecord(
    block.view,
    block.bytes,
    block.offsets[n - block.from]!,
  );
  const { lines, senders } = block.names;
  return { ...rest, lineId: lines.get(lineIndex) ?? '', senderId: senders.get(senderIndex) ?? null };
}

function viewOf(blocks: readonly Block[], first: number, end: number): TrafficView {
  return {
    first,
    end,
    at(n) {
      let low = 0;
      let high = blocks.length - 1;
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (blocks[middle]!.from <= n) low = middle;
        else high = middle - 1;
      }
      return read(blocks[low]!, n);
    },
  };
}

export function createTrafficLog(kept = KEPT_TRAFFIC): TrafficLog {
  // Replaced when a block is added or removed, so that earlier views keep their blocks.
  let blocks: readonly Block[] = [];
  let end = 0;
  let view = viewOf(blocks, 0, 0);

  function roomFor(size: number, names: Names): Block {
    const last = blocks.at(-1);
    if (last && last.names === names && last.count < BLOCK_RECORDS && last.used + size <= BLOCK_BYTES)
      return last;
    const block = newBlock(end, names);
    let drop = 0;
    while (drop < blocks.length && end - (blocks[drop]!.from + blocks[drop]!.count) >= kept) drop++;
    blocks = [...blocks.slice(drop), block];
    return block;
  }

  return {
    view: () => view,
    add(batch, bytes, names) {
      for (const at of batch.records) {
        const size = sizeOfRecord(batch.view, at);
        const block = roomFor(size, names);
        block.bytes.set(bytes.subarray(at, at + size), block.used);
        block.offsets[block.count++] = block.used;
        block.used += size;
        end++;
      }
      view = viewOf(blocks, blocks[0]?.from ?? end, end);
    },
  };
}

/** Makes a view of fixed records. */
export const viewOfList = (records: readonly Passing[]): TrafficView => ({
  first: 0,
  end: records.length,
  at: (n) => records[n]!,
});
