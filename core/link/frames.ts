/**
 * Frames on the link between the engine and the web server: a stream of bytes, each frame with its length before it.
 *
 * | bytes | what                                                         |
 * |-------|--------------------------------------------------------------|
 * | 4     | length of the rest, little-endian                            |
 * | 1     | kind: 1 JSON text, 2 a batch (core/live/batch), 3 port bytes |
 * | …     | of port bytes: carrier (4), port (1), age (4), the bytes     |
 *
 * The age is how many ms ago the bytes arrived at their port (a 32-bit float). What a signal passes through, port bytes, is never JSON.
 */
export const MESSAGE_FRAME = 1;
export const BATCH_FRAME = 2;
export const PORT_FRAME = 3;

/** A show with its MIDI files fits; what claims to be longer is not from us. */
export const FRAME_LIMIT = 64 << 20;
/** Bytes that are set aside for a frame before more of it has come: a length alone is only a claim. */
const FIRST_BYTES = 1 << 16;
const HEAD = 4;
const PORT_HEAD = 9;
/** Bytes that are said to be older than this are said to be this old: a clock is wrong. */
export const LONGEST_AGE_MS = 1000;

/** A stream that is not the link's. */
export class LinkError extends Error {}

/** What a reader finds. `bytes` are valid during the call only. */
export interface LinkListener {
  message(json: string, bytes: Uint8Array): void;
  batch(bytes: Uint8Array): void;
  /** @param ageMs from 0 to LONGEST_AGE_MS */
  portBytes(carrier: number, port: number, bytes: Uint8Array, ageMs: number): void;
}

export interface LinkReader {
  /** Takes the stream in any split. @throws LinkError where the stream is not the link's */
  feed(bytes: Uint8Array): void;
}

const text = new TextEncoder();
const untext = new TextDecoder('utf-8');

function framed(kind: number, length: number): { bytes: Uint8Array; view: DataView } {
  const bytes = new Uint8Array(HEAD + 1 + length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, length + 1, true);
  bytes[HEAD] = kind;
  return { bytes, view };
}

export function messageFrame(message: unknown): Uint8Array {
  const json = text.encode(JSON.stringify(message));
  const { bytes } = framed(MESSAGE_FRAME, json.length);
  bytes.set(json, HEAD + 1);
  return bytes;
}

export function batchFrame(batch: Uint8Array): Uint8Array {
  const { bytes } = framed(BATCH_FRAME, batch.length);
  bytes.set(batch, HEAD + 1);
  return bytes;
}

/** @param carrier 0 to 2^32 - 1. @param port 0–255. @param ageMs how many ms ago the bytes arrived at their port */
export function portFrame(carrier: number, port: number, what: Uint8Array, ageMs = 0): Uint8Array {
  const { bytes, view } = framed(PORT_FRAME, PORT_HEAD + what.length);
  view.setUint32(HEAD + 1, carrier, true);
  bytes[HEAD + 5] = port;
  view.setFloat32(HEAD + 6, boundedAge(ageMs), true);
  bytes.set(what, HEAD + 1 + PORT_HEAD);
  return bytes;
}

/** An age that is no number, or in the future, is 0. */
const boundedAge = (ageMs: number): number => (ageMs > 0 ? Math.min(ageMs, LONGEST_AGE_MS) : 0);

export function createLinkReader(listener: LinkListener): LinkReader {
  const head = new Uint8Array(HEAD);
  let headLength = 0;
  /** A frame that is not whole yet; null while its length is being read. */
  let partial: Uint8Array | null = null;
  /** How long it will be, and how much of it is there. */
  let wanted = 0;
  let have = 0;

  function take(frame: Uint8Array): void {
    const body = frame.subarray(1);
    switch (frame[0]) {
      case MESSAGE_FRAME:
        return listener.message(untext.decode(body), body);
      case BATCH_FRAME:
        return listener.batch(body);
      case PORT_FRAME: {
        if (body.length < PORT_HEAD) throw new LinkError('port bytes without a port');
        const view = new DataView(body.buffer, body.byteOffset);
        const ageMs = boundedAge(view.getFloat32(5, true));
        return listener.portBytes(view.getUint32(0, true), body[4]!, body.subarray(PORT_HEAD), ageMs);
      }
      default:
        throw new LinkError(`a frame of kind ${frame[0]}`);
    }
  }

  function lengthOf(view: DataView, at: number): number {
    const length = view.getUint32(at, true);
    if (length === 0 || length > FRAME_LIMIT) throw new LinkError(`a frame of ${length} bytes`);
    return length;
  }

  return {
    feed(bytes) {
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      let at = 0;
      while (at < bytes.length) {
        if (!partial) {
          // A whole frame is taken where it stands.
          if (headLength === 0 && bytes.length - at >= HEAD) {
            const length = lengthOf(view, at);
            if (bytes.length - at - HEAD >= length) {
              at += HEAD + length;
              take(bytes.subarray(at - length, at));
              continue;
            }
          }
          const taken = Math.min(HEAD - headLength, bytes.length - at);
          head.set(bytes.subarray(at, at + taken), headLength);
          headLength += taken;
          at += taken;
          if (headLength < HEAD) return;
          wanted = lengthOf(new DataView(head.buffer), 0);
          partial = new Uint8Array(Math.min(wanted, FIRST_BYTES));
          headLength = have = 0;
        }
        const taken = Math.min(wanted - have, bytes.length - at);
        if (have + taken > partial.length) {
          const wider = new Uint8Array(Math.min(wanted, Math.max(have + taken, partial.length * 2)));
          wider.set(partial.subarray(0, have));
          partial = wider;
        }
        partial.set(bytes.subarray(at, at + taken), have);
        have += taken;
        at += taken;
        if (have < wanted) return;
        const whole = partial;
        partial = null;
        take(whole);
      }
    },
  };
}
