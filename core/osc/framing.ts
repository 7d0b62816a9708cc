/**
 * OSC packets in a byte stream, as over TCP: framed by SLIP (OSC 1.1, RFC 1055) or by a length before each
 * (OSC 1.0, "OSC Packets": "the stream should begin with an int32 giving the size of the first packet").
 *
 * SLIP: END (C0) stands before and after a packet; C0 within it is written DB DC, and DB is written DB DD.
 */

export type Framing = 'slip' | 'length';

/** A longer packet is discarded, so that no stream can fill the memory. */
export const PACKET_LIMIT = 1 << 20;

const END = 0xc0;
const ESC = 0xdb;
const ESC_END = 0xdc;
const ESC_ESC = 0xdd;

/** What a deframer tells. `packet` and `bytes` are valid during the call only. */
export interface FrameListener {
  packet(packet: Uint8Array): void;
  /** Bytes that make no packet. After a wrong length nothing more can be found in the stream: `lost` is true. */
  bad(reason: string, bytes: Uint8Array, lost: boolean): void;
}

export interface Deframer {
  /** Takes the stream in any split. */
  feed(bytes: Uint8Array): void;
}

/** A packet as it stands in the stream. */
export function frame(framing: Framing, packet: Uint8Array): Uint8Array {
  if (framing === 'length') {
    const framed = new Uint8Array(packet.length + 4);
    new DataView(framed.buffer).setInt32(0, packet.length);
    framed.set(packet, 4);
    return framed;
  }
  let escapes = 0;
  for (const byte of packet) if (byte === END || byte === ESC) escapes++;
  const framed = new Uint8Array(packet.length + escapes + 2);
  let at = 0;
  framed[at++] = END;
  for (const byte of packet) {
    if (byte === END || byte === ESC) {
      framed[at++] = ESC;
      framed[at++] = byte === END ? ESC_END : ESC_ESC;
    } else framed[at++] = byte;
  }
  framed[at] = END;
  return framed;
}

export function createDeframer(framing: Framing, listener: FrameListener): Deframer {
  return framing === 'slip' ? slipDeframer(listener) : lengthDeframer(listener);
}

/** A buffer that grows with its content. */
interface Gathered {
  bytes: Uint8Array;
  length: number;
}

function push(into: Gathered, byte: number): void {
  if (into.length === into.bytes.length) {
    const wider = new Uint8Array(Math.min(into.bytes.length * 2, PACKET_LIMIT));
    wider.set(into.bytes);
    into.bytes = wider;
  }
  into.bytes[into.length++] = byte;
}

function slipDeframer(listener: FrameListener): Deframer {
  const packet: Gathered = { bytes: new Uint8Array(256), length: 0 };
  let escaped = false;
  let broken = ''; // why what is gathered is no packet; it is passed over up to the next END

  function end(): void {
    const bytes = packet.bytes.subarray(0, packet.length);
    if (escaped && broken === '') broken = 'a SLIP escape at the end of a packet';
    if (broken !== '') listener.bad(broken, bytes, false);
    // Two ENDs side by side are the end of one packet and the beginning of the next.
    else if (packet.length > 0) listener.packet(bytes);
    packet.length = 0;
    escaped = false;
    broken = '';
  }

  function data(byte: number): void {
    if (packet.length >= PACKET_LIMIT) broken ||= 'a packet longer than 1 MiB';
    else push(packet, byte);
  }

  return {
    feed(bytes) {
      for (const byte of bytes) {
        if (byte === END) end();
        else if (escaped) {
          escaped = false;
          if (byte === ESC_END) data(END);
          else if (byte === ESC_ESC) data(ESC);
          else broken ||= 'a SLIP escape before a byte that needs none';
        } else if (byte === ESC) escaped = true;
        else data(byte);
      }
    },
  };
}

function lengthDeframer(listener: FrameListener): Deframer {
  const packet: Gathered = { bytes: new Uint8Array(256), length: 0 };
  const head = new Uint8Array(4);
  let headLength = 0;
  let wanted = -1; // bytes of the packet; -1 while its length is being read
  let lost = false;

  function readLength(): void {
    wanted = new DataView(head.buffer).getInt32(0);
    headLength = 0;
    if (wanted >= 0 && wanted <= PACKET_LIMIT) return;
    lost = true;
    listener.bad(`a packet length of ${wanted}`, head, true);
  }

  function take(byte: number): void {
    if (wanted < 0) {
      head[headLength++] = byte;
      if (headLength === 4) readLength();
    } else push(packet, byte);
    if (lost || wanted < 0 || packet.length < wanted) return;
    if (wanted > 0) listener.packet(packet.bytes.subarray(0, wanted));
    packet.length = 0;
    wanted = -1;
  }

  return {
    feed(bytes) {
      for (let i = 0; i < bytes.length && !lost; i++) take(bytes[i]!);
    },
  };
}
