/** Processes OSC packets from any transport. Bundles with a later time wait until then (OSC 1.0). */
import { decodeOsc, encodeOsc, OscError, type OscDecoded } from '@tawny-signal/core/osc/packet';
import { patternFault } from '@tawny-signal/core/osc/pattern';
import { holdMs } from '@tawny-signal/core/osc/time-tag';
import type { LineListener } from './driver.js';
import type { Timers } from './retry.js';

/** A time that is further away than this means that a clock is wrong. */
const LONGEST_MS = 60_000;
/** The most messages that wait, and their bytes, so that no sender can fill the memory. */
const MOST_HELD = 1000;
const MOST_HELD_BYTES = 4 << 20;

export interface OscIn {
  /** @param bytes one packet. It is reported as bad if it is not OSC or cannot wait */
  hear(bytes: Uint8Array): void;
}

/** @param now milliseconds since 1970, the clock that senders share with us */
export function createOscIn(
  listener: Pick<LineListener, 'heard' | 'bad' | 'take'>,
  timers: Timers,
  // Time tags are by the clock of the machine, whatever it is set to.
  // eslint-disable-next-line no-restricted-properties
  now: () => number = Date.now,
): OscIn {
  let held = 0;
  let heldBytes = 0;

  function hold({ signal }: OscDecoded, ms: number, packet: Uint8Array): void {
    if (ms > LONGEST_MS) {
      const seconds = Math.round(ms / 1000);
      listener.bad(
        `A bundle for ${seconds} s from now; 60 s is the most. Is the sender’s clock right?`,
        packet,
      );
    } else if (held >= MOST_HELD)
      listener.bad(`A bundle for later, and ${MOST_HELD} are held already.`, packet);
    else {
      // The bytes of the message itself, not of its bundle.
      const kept = encodeOsc(signal);
      if (heldBytes + kept.length > MOST_HELD_BYTES) {
        listener.bad('A bundle for later, and 4 MB are held already.', packet);
        return;
      }
      held++;
      heldBytes += kept.length;
      timers.later(ms, () => {
        held--;
        heldBytes -= kept.length;
        listener.heard(signal, kept);
      });
    }
  }

  function decode(bytes: Uint8Array): OscDecoded[] {
    try {
      return decodeOsc(bytes);
    } catch (error) {
      if (!(error instanceof OscError)) throw error;
      listener.bad(`Not OSC: ${error.message}.`, bytes);
      return [];
    }
  }

  function take(message: OscDecoded, packet: Uint8Array): void {
    const fault = patternFault(message.signal.address);
    if (fault) return listener.bad(`Not OSC: ${fault}.`, packet);
    const ms = holdMs(message.timeTag, now());
    if (ms === 0) listener.heard(message.signal, packet);
    else hold(message, ms, packet);
  }

  return {
    hear(bytes) {
      let decoded: OscDecoded[] | null = null;
      let next = 0;
      listener.take((until) => {
        decoded ??= decode(bytes);
        while (next < decoded.length) {
          take(decoded[next++]!, bytes);
          if (next < decoded.length && performance.now() >= until) return false;
        }
        return true;
      }, bytes.length);
    },
  };
}
