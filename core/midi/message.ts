/**
 * MIDI 1.0 messages, signals to bytes (MIDI 1.0 Detailed Specification 4.2, tables I to VI).
 *
 * | status | message                | data bytes                           |
 * |--------|------------------------|--------------------------------------|
 * | 8n     | note off               | note, release velocity               |
 * | 9n     | note on                | note, velocity (0 means note off)    |
 * | An     | polyphonic pressure    | note, pressure                       |
 * | Bn     | control change         | controller, value                    |
 * | Cn     | program change         | program                              |
 * | Dn     | channel pressure       | pressure                             |
 * | En     | pitch bend             | low seven bits, high seven bits      |
 * | F0     | system-exclusive       | any number, ended by F7              |
 * | F1–F6  | system common          | F1: 1, F2: 2, F3: 1, F4–F6: none     |
 * | F8–FF  | system real-time       | none                                 |
 */
import { CHANNEL_KINDS, type ChannelKind, type MidiSignal } from '../signal.js';

const STATUS: Record<ChannelKind, number> = {
  noteOff: 0x80,
  noteOn: 0x90,
  polyPressure: 0xa0,
  controlChange: 0xb0,
  programChange: 0xc0,
  channelPressure: 0xd0,
  pitchBend: 0xe0,
};

/** How many data bytes follow a status byte: 0, 1 or 2; -1 for F0, whose end is marked by F7. */
export function dataLength(status: number): number {
  if (status < 0xf0) return status >= 0xc0 && status < 0xe0 ? 1 : 2;
  switch (status) {
    case 0xf0:
      return -1;
    case 0xf1:
    case 0xf3:
      return 1;
    case 0xf2:
      return 2;
    default:
      return 0;
  }
}

/**
 * A channel message from its three bytes. A note on with velocity 0 comes out as the note off that it means.
 * @param status 80–EF hex. @param data1 0–127. @param data2 0–127, ignored for one-byte messages.
 */
export function channelSignal(status: number, data1: number, data2: number): MidiSignal {
  const kind = CHANNEL_KINDS[(status >> 4) - 8]!;
  const channel = status & 0x0f;
  switch (kind) {
    case 'noteOn':
      return { kind: data2 === 0 ? 'noteOff' : 'noteOn', channel, number: data1, value: data2 };
    case 'programChange':
      return { kind, channel, number: data1, value: 0 };
    case 'channelPressure':
      return { kind, channel, number: 0, value: data1 };
    case 'pitchBend':
      return { kind, channel, number: 0, value: (data2 << 7) | data1 };
    default:
      return { kind, channel, number: data1, value: data2 };
  }
}

/**
 * Writes a signal's bytes into `into` at `offset`, with its status byte (no running status).
 * @returns how many bytes were written. Throws a RangeError if they don't fit.
 */
export function encodeMidi(signal: MidiSignal, into: Uint8Array, offset = 0): number {
  switch (signal.kind) {
    case 'sysex':
      into.set(signal.bytes, offset);
      return signal.bytes.length;
    case 'system': {
      const length = dataLength(signal.status);
      if (offset + 1 + length > into.length) throw new RangeError('no room for a MIDI message');
      into[offset] = signal.status;
      if (length > 0) into[offset + 1] = signal.data1;
      if (length > 1) into[offset + 2] = signal.data2;
      return 1 + length;
    }
    default: {
      if (offset + 3 > into.length) throw new RangeError('no room for a MIDI message');
      into[offset] = STATUS[signal.kind] | signal.channel;
      switch (signal.kind) {
        case 'programChange':
          into[offset + 1] = signal.number;
          return 2;
        case 'channelPressure':
          into[offset + 1] = signal.value;
          return 2;
        case 'pitchBend':
          into[offset + 1] = signal.value & 0x7f;
          into[offset + 2] = signal.value >> 7;
          return 3;
        default:
          into[offset + 1] = signal.number;
          into[offset + 2] = signal.value;
          return 3;
      }
    }
  }
}
