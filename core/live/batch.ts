/**
 * What people look at, as it leaves the engine: a batch of what passed and what changed since the
 * last one, in one block of bytes that goes to the browser as it is.
 *
 * | bytes | what                                                                     |
 * |-------|--------------------------------------------------------------------------|
 * | 1     | BATCH                                                                    |
 * | 1     | 1 if it passed before this browser connected, else 0                      |
 * | 2     | number of traffic records, then of lines, then of mappings (2 each)      |
 * | 4     | traffic records dropped since the last batch                             |
 *
 * Little-endian. The records follow in that order; their fields are those of the interfaces below.
 */

/** First byte of a binary message on the live connection. */
export const BATCH = 1;
/** A MIDI message or key for or from a port that a browser or stand-in carries: then the port's index, then its bytes. */
export const PORT_BYTES = 2;
/** The same from a browser that knows when the message arrived: the port's index, then that time (float64, ms since 1970 by the server's clock), then the bytes. */
export const TIMED_PORT_BYTES = 3;
export const TIMED_HEAD = 10;
/** A batch for a browser on another machine: then the batch, in raw DEFLATE (RFC 1951). */
export const PACKED_BATCH = 4;

/** @param at milliseconds since 1970 by the server's clock */
export function timedPortBytes(port: number, at: number, bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  const framed = new Uint8Array(TIMED_HEAD + bytes.length);
  framed[0] = TIMED_PORT_BYTES;
  framed[1] = port;
  new DataView(framed.buffer).setFloat64(2, at, true);
  framed.set(bytes, TIMED_HEAD);
  return framed;
}

export const DIRECTIONS = ['in', 'out', 'heldBack', 'bad'] as const;
/** `heldBack`: not sent, because the show is safe or the line is muted. `bad`: received, but not understood. */
export type Direction = (typeof DIRECTIONS)[number];

export interface TrafficRecord {
  seq: number;
  /** The `seq` of what was heard that caused this; 0 for what was heard, and for what a person or Panic caused. */
  cause: number;
  /** True if it was sent later than its cause was heard: it was delayed, or belongs to a fade or glide. */
  later: boolean;
  /** Milliseconds since 1970, with fractions. */
  at: number;
  lineIndex: number;
  /** Index of the mapping, route or moment that sent it; NO_INDEX for what was heard. */
  senderIndex: number;
  direction: Direction;
  /** The length of the message; `bytes` holds at most RECORD_BYTES of it. */
  length: number;
  bytes: Uint8Array;
  /** What was wrong, for `bad`; otherwise empty. */
  reason: string;
}

/** Totals of a line since it was opened. */
export interface LineTotals {
  index: number;
  inCount: number;
  outCount: number;
  badCount: number;
  inBytes: number;
  outBytes: number;
}

export interface MappingFired {
  index: number;
  count: number;
  at: number;
  heard: number;
  shaped: number;
}

export interface Batch {
  dropped: number;
  traffic: TrafficRecord[];
  lines: LineTotals[];
  mappings: MappingFired[];
}

export const NO_INDEX = 0xffff_ffff;
export const RECORD_BYTES = 256;
const HEAD = 12;
const TRAFFIC_HEAD = 32;
const LINE_SIZE = 32;
const MAPPING_SIZE = 32;

const text = new TextEncoder();
const untext = new TextDecoder('utf-8');

export interface BatchWriter {
  /** Keeps a record for the next batch, or counts it as dropped when there is no room. Copies the bytes. */
  traffic(record: Omit<TrafficRecord, 'length'>): void;
  /** Whether there is room for a record of so many bytes. */
  hasRoom(length: number): boolean;
  /** Counts a record that was not even written. */
  drop(): void;
  /** The batch as bytes of its own, or null if there is nothing to say. Empties the writer. */
  take(lines: LineTotals[], mappings: MappingFired[]): Uint8Array | null;
}

/** @param room bytes of traffic that one batch may hold. */
export function createBatchWriter(room = 256 * 1024): BatchWriter {
  const kept = new Uint8Array(room);
  const view = new DataView(kept.buffer);
  let used = 0;
  let records = 0;
  let dropped = 0;

  return {
    hasRoom: (length) => records < 0xffff && used + TRAFFIC_HEAD + Math.min(length, RECORD_BYTES) <= room,
    drop() {
      dropped++;
    },
    traffic(record) {
      const reason = record.reason === '' ? null : text.encode(record.reason).subarray(0, 255);
      const shown = Math.min(record.bytes.length, RECORD_BYTES);
      const size = TRAFFIC_HEAD + shown + (reason?.length ?? 0);
      if (used + size > room || records === 0xffff) {
        dropped++;
        return;
      }
      view.setUint32(used, record.seq, true);
      view.setUint32(used + 4, record.cause, true);
      view.setFloat64(used + 8, record.at, true);
      view.setUint32(used + 16, record.senderIndex, true);
      view.setUint32(used + 20, record.bytes.length, true);
      view.setUint16(used + 24, record.lineIndex, true);
      view.setUint16(used + 26, shown, true);
      kept[used + 28] = DIRECTIONS.indexOf(record.direction);
      kept[used + 29] = reason?.length ?? 0;
      kept[used + 30] = Number(record.later);
      for (let i = 0; i < shown; i++) kept[used + TRAFFIC_HEAD + i] = record.bytes[i]!;
      if (reason) kept.set(reason, used + TRAFFIC_HEAD + shown);
      used += size;
      records++;
    },

    take(lines, mappings) {
      if (records === 0 && lines.length === 0 && mappings.length === 0 && dropped === 0) return null;
      const bytes = new Uint8Array(HEAD + used + lines.length * LINE_SIZE + mappings.length * MAPPING_SIZE);
      const out = new DataView(bytes.buffer);
      bytes[0] = BATCH;
      out.setUint16(2, records, true);
      out.setUint16(4, lines.length, true);
      out.setUint16(6, mappings.length, true);
      out.setUint32(8, dropped, true);
      bytes.set(kept.subarray(0, used), HEAD);
      let at = HEAD + used;
      for (const line of lines) {
        out.setUint16(at, line.index, true);
        out.setUint32(at + 4, line.inCount, true);
        out.setUint32(at + 8, line.outCount, true);
        out.setUint32(at + 12, line.badCount, true);
        out.setFloat64(at + 16, line.inBytes, true);
        out.setFloat64(at + 24, line.outBytes, true);
        at += LINE_SIZE;
      }
      for (const mapping of mappings) {
        out.setUint32(at, mapping.index, true);
        out.setUint32(at + 4, mapping.count, true);
        out.setFloat64(at + 8, mapping.at, true);
        out.setFloat64(at + 16, mapping.heard, true);
        out.setFloat64(at + 24, mapping.shaped, true);
        at += MAPPING_SIZE;
      }
      used = 0;
      records = 0;
      dropped = 0;
      return bytes;
    },
  };
}

/** Puts records of other batches, as they are, into a batch for a browser that connects. */
export function pastBatch(records: readonly Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(HEAD + records.reduce((sum, { length }) => sum + length, 0));
  bytes.set([BATCH, 1]);
  new DataView(bytes.buffer).setUint16(2, records.length, true);
  let at = HEAD;
  for (const record of records) {
    bytes.set(record, at);
    at += record.length;
  }
  return bytes;
}

/** Reads the direction of a record without the rest of it. */
export const directionOf = (view: DataView, at: number): Direction => DIRECTIONS[view.getUint8(at + 28)]!;
/** Reads the `seq` of what caused a record at once; 0 for none, and for what was sent later. */
export const directCauseOf = (view: DataView, at: number): number =>
  view.getUint8(at + 30) === 1 ? 0 : view.getUint32(at + 4, true);

export const seqOf = (view: DataView, at: number): number => view.getUint32(at, true);

/** Whether a record holds a MIDI release: status 8n, or 9n with velocity 0. */
export function isReleaseAt(view: DataView, at: number): boolean {
  if (view.getUint16(at + 26, true) !== 3) return false;
  const kind = view.getUint8(at + TRAFFIC_HEAD) & 0xf0;
  return kind === 0x80 || (kind === 0x90 && view.getUint8(at + TRAFFIC_HEAD + 2) === 0);
}

/**
 * Returns whether a record is a MIDI clock or a quarter frame of timecode, which pass many times a second. They are the only records of one byte
 * F8 or of two bytes from F1 on.
 */
export function isTimeAt(view: DataView, at: number): boolean {
  const length = view.getUint16(at + 26, true);
  const first = view.getUint8(at + TRAFFIC_HEAD);
  return (length === 1 && first === 0xf8) || (length === 2 && first === 0xf1);
}

/** Bytes that a record takes from `at` on. */
export function sizeOfRecord(view: DataView, at: number): number {
  return TRAFFIC_HEAD + view.getUint16(at + 26, true) + view.getUint8(at + 29);
}

/** The record from `at` on, with bytes of its own. @param view of `bytes`, whole */
export function readRecord(view: DataView, bytes: Uint8Array, at: number): TrafficRecord {
  const shown = view.getUint16(at + 26, true);
  const reasonLength = view.getUint8(at + 29);
  const bytesAt = at + TRAFFIC_HEAD;
  return {
    seq: view.getUint32(at, true),
    cause: view.getUint32(at + 4, true),
    later: view.getUint8(at + 30) === 1,
    at: view.getFloat64(at + 8, true),
    senderIndex: view.getUint32(at + 16, true),
    length: view.getUint32(at + 20, true),
    lineIndex: view.getUint16(at + 24, true),
    direction: DIRECTIONS[view.getUint8(at + 28)]!,
    bytes: bytes.slice(bytesAt, bytesAt + shown),
    reason:
      reasonLength === 0
        ? ''
        : untext.decode(bytes.subarray(bytesAt + shown, bytesAt + shown + reasonLength)),
  };
}

/** A batch whose traffic is still bytes. */
export interface OpenBatch extends Omit<Batch, 'traffic'> {
  /** True if it passed before this browser connected. */
  past: boolean;
  view: DataView;
  /** Where each record begins. */
  records: number[];
}

/** Reads what `take` wrote, but for the records themselves. @throws RangeError on anything else. */
export function openBatch(bytes: Uint8Array): OpenBatch {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint8(0) !== BATCH) throw new RangeError('not a batch');
  const batch: OpenBatch = {
    past: view.getUint8(1) === 1,
    dropped: view.getUint32(8, true),
    view,
    records: [],
    lines: [],
    mappings: [],
  };
  let at = HEAD;
  for (let i = view.getUint16(2, true); i > 0; i--) {
    batch.records.push(at);
    at += sizeOfRecord(view, at);
  }
  for (let i = view.getUint16(4, true); i > 0; i--, at += LINE_SIZE) {
    batch.lines.push({
      index: view.getUint16(at, true),
      inCount: view.getUint32(at + 4, true),
      outCount: view.getUint32(at + 8, true),
      badCount: view.getUint32(at + 12, true),
      inBytes: view.getFloat64(at + 16, true),
      outBytes: view.getFloat64(at + 24, true),
    });
  }
  for (let i = view.getUint16(6, true); i > 0; i--, at += MAPPING_SIZE) {
    batch.mappings.push({
      index: view.getUint32(at, true),
      count: view.getUint32(at + 4, true),
      at: view.getFloat64(at + 8, true),
      heard: view.getFloat64(at + 16, true),
      shaped: view.getFloat64(at + 24, true),
    });
  }
  return batch;
}

/** Reads what `take` wrote. @throws RangeError on anything else. */
export function readBatch(bytes: Uint8Array): Batch {
  const { view, records, dropped, lines, mappings } = openBatch(bytes);
  const traffic = records.map((at) => readRecord(view, bytes, at));
  return { dropped, traffic, lines, mappings };
}
