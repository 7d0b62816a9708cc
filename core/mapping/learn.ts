/** What a mapping should hear, from a control that was touched: that control alone, at any force. */
import type { Hear } from '../show/mapping.js';
import { parseKey } from '../keys/codes.js';
import type { Signal } from '../signal.js';

/**
 * @returns null for what nobody means when they touch a control: a release, pressure, clock and other system messages.
 */
export function learnFrom(signal: Signal, lineId: string): Hear | null {
  if (signal.kind === 'osc') return { message: 'osc', lineId, address: signal.address };
  if (signal.kind === 'slot') {
    return { message: 'slot', lineId, slots: [signal.slot, signal.slot], values: 'any' };
  }
  if (signal.kind === 'key') {
    const code = parseKey(signal.code);
    return signal.down && code ? { message: 'keyPressed', lineId, code } : null;
  }
  if (!('channel' in signal)) return null;
  const channels: [number, number] = [signal.channel, signal.channel];
  const numbers: [number, number] = [signal.number, signal.number];
  switch (signal.kind) {
    case 'noteOn':
      return { message: 'pressed', lineId, channels, numbers, values: 'any' };
    case 'controlChange':
      return { message: 'control', lineId, channels, numbers, values: 'any' };
    case 'programChange':
      return { message: 'program', lineId, channels, numbers };
    case 'pitchBend':
      return { message: 'bend', lineId, channels, values: 'any' };
    case 'noteOff':
    case 'polyPressure':
    case 'channelPressure':
      return null;
  }
}
