/** An OSC packet that came in, whatever it came by. Bundles for a later time are held until then (OSC 1.0). */
import { decodeOsc, OscError, type OscDecoded } from '@tawny-signal/core/osc/packet';
import { holdMs } from '@tawny-signal/core/osc/time-tag';
import type { LineListener } from './driver.js';
import type { Timers } from './retry.js';

/** A time further away than this is a clock that is wrong. */
const LONGEST_MS = 60_000;
/** Packets held at once; no sender can fill the memory with the future. */
const MOST_HELD = 1000;

export interface OscIn {
  /** @param bytes one packet; what is none, or can't be held, is told as bad. */
  hear(bytes: Uint8Array): void;
}

/** @param now milliseconds since 1970, the clock that senders share with us */
export function createOscIn(
  listener: Pick<LineListener, 'heard' | 'bad'>,
  timers: Timers,
  now: () => number = Date.now,
): OscIn {
  let held = 0;

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
      const kept = packet.slice();
      held++;
      timers.later(ms, () => {
        held--;
        listener.heard(signal, kept);
      });
    }
  }

  return {
    hear(bytes) {
      let decoded;
      try {
        decoded = decodeOsc(bytes);
      } catch (error) {
        if (!(error instanceof OscError)) throw error;
        listener.bad(`Not OSC: ${error.message}.`, bytes);
        return;
      }
      for (const message of decoded) {
        const ms = holdMs(message.timeTag, now());
        if (ms === 0) listener.heard(message.signal, bytes);
        else hold(message, ms, bytes);
      }
    },
  };
}
