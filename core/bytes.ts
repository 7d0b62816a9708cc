/** Converts any signal to the bytes that the traffic records for it, and back. */
import { decodeSlot, encodeSlot } from './dmx/slot.js';
import { decodeKey, encodeKey } from './keys/key.js';
import { encodeMidi } from './midi/message.js';
import { createMidiParser } from './midi/parser.js';
import { decodeOsc, encodeOsc } from './osc/packet.js';
import type { Protocol } from './show/line.js';
import type { Signal } from './signal.js';
import { decodeTimecode, encodeTimecode } from './timecode/signal.js';

const buffer = new Uint8Array(3);

/** Bytes of its own. */
export function encodeSignal(signal: Signal): Uint8Array {
  switch (signal.kind) {
    case 'osc':
      return encodeOsc(signal);
    case 'slot':
      return encodeSlot(signal);
    case 'key':
      return encodeKey(signal);
    case 'timecode':
      return encodeTimecode(signal);
    case 'sysex':
      return signal.bytes;
    default:
      return buffer.slice(0, encodeMidi(signal, buffer));
  }
}

/** Returns the signals in the bytes of a record; none if they cannot be understood. */
export function decodeSignals(protocol: Protocol, bytes: Uint8Array): Signal[] {
  const signals: Signal[] = [];
  try {
    switch (protocol) {
      case 'midi':
        createMidiParser({ message: (signal) => signals.push(signal), bad: () => undefined }).feed(bytes);
        return signals;
      case 'osc':
        return decodeOsc(bytes).map(({ signal }) => signal);
      case 'dmx': {
        const signal = decodeSlot(bytes) ?? decodeTimecode(bytes);
        return signal ? [signal] : [];
      }
      case 'sound': {
        const frame = decodeTimecode(bytes);
        return frame ? [frame] : [];
      }
      case 'keys':
        return [decodeKey(bytes)];
    }
  } catch {
    return [];
  }
}
