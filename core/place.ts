/**
 * Texts that identify the place of a control or of what a send moves: a slot, a controller of a channel, an address, a key, a bank. Each is written
 * without its line.
 */
import type { Signal } from './signal.js';

export const slotPlace = (slot: number): string => `slot ${slot}`;
export const oscPlace = (address: string): string => `osc ${address}`;
export const keyPlace = (code: string): string => `key ${code}`;
export const bankPlace = (id: string | null): string => `bank ${id}`;
/** A motion, or one of its settings. */
export const motionPlace = (id: string | null, what: string): string => `motion ${id} ${what}`;
/** A number on a channel 0–15. @param sort `note`, `control`, `control14` … */
export const channelPlace = (sort: string, channel: number, number: number): string =>
  `${sort} ${channel} ${number}`;
/** A whole channel, 0–15. */
export const wholeChannelPlace = (sort: 'bend' | 'pressure' | 'program', channel: number): string =>
  `${sort} ${channel}`;
export const parameterPlace = (channel: number, registered: boolean, number: number): string =>
  `parameter ${channel} ${registered} ${number}`;

/** A place on a line. @param line its id, or its index */
export const placeOnLine = (line: string | number | null, place: string): string => `${line} ${place}`;

/** Returns the place whose value a signal sets; null if it sets none. */
export function placeOfSignal(signal: Signal): string | null {
  switch (signal.kind) {
    case 'slot':
      return slotPlace(signal.slot);
    case 'controlChange':
      return channelPlace('control', signal.channel, signal.number);
    case 'osc':
      return oscPlace(signal.address);
    default:
      return null;
  }
}

const ON_CHANNELS = 16 * 128;

/** Moves a channel and number by a number of places. After the 128th number the next channel follows. Returns null beyond the last. */
export function placeOn(
  channel: number,
  number: number,
  step: number,
): { channel: number; number: number } | null {
  const place = channel * 128 + number + step;
  return place >= 0 && place < ON_CHANNELS ? { channel: place >> 7, number: place & 0x7f } : null;
}
