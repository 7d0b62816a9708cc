/** An OSC packet that came in, whatever it came by. */
import { decodeOsc, OscError } from '@tawny-signal/core/osc/packet';
import type { LineListener } from './driver.js';

/** @param bytes one packet; what is none is told as bad. */
export function hearOsc(bytes: Uint8Array, listener: Pick<LineListener, 'heard' | 'bad'>): void {
  let decoded;
  try {
    decoded = decodeOsc(bytes);
  } catch (error) {
    if (!(error instanceof OscError)) throw error;
    listener.bad(`Not OSC: ${error.message}.`, bytes);
    return;
  }
  for (const { signal } of decoded) listener.heard(signal, bytes);
}
