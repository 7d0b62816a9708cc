/** Any signal in words. */
import { describeMidi, type MiddleC } from './midi/words.js';
import { describeOsc } from './osc/words.js';
import type { Signal } from './signal.js';

export function describeSignal(signal: Signal, middleC: MiddleC): string {
  return signal.kind === 'osc' ? describeOsc(signal) : describeMidi(signal, middleC);
}
