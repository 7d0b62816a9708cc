/** Any signal in words. */
import { describeSlot } from './dmx/slot.js';
import { describeKey } from './keys/key.js';
import { describeMidi, type MiddleC } from './midi/words.js';
import { describeOsc } from './osc/words.js';
import type { Signal } from './signal.js';
import { describeTimecode } from './timecode/signal.js';

export function describeSignal(signal: Signal, middleC: MiddleC): string {
  switch (signal.kind) {
    case 'osc':
      return describeOsc(signal);
    case 'slot':
      return describeSlot(signal);
    case 'key':
      return describeKey(signal);
    case 'timecode':
      return describeTimecode(signal);
    default:
      return describeMidi(signal, middleC);
  }
}
