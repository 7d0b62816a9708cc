/**
 * The places that sends move and controls are at, as texts by which the same place is found again: a slot, a controller of a channel, an address,
 * a key, a bank. Each is written without its line.
 */
import type { Signal } from './signal.js';

export const slotPlace = (slot: number): string => `slot ${slot}`;
export const oscPlace = (address: string): string => `osc ${address}`;
export const keyPlace = (code: string): string => `key ${code}`;
export const bankPlace = (id: string | null): string => `bank ${id}`;
/** Of a channel, 0–15, and a number on it. @param sort `note`, `control`, `control14` … */
export const channelPlace = (sort: string, channel: number, number: number): string =>
  `${sort} ${channel} ${number}`;
/** Of a whole channel, 0–15. */
export const wholeChannelPlace = (sort: 'bend' | 'program', channel: number): string => `${sort} ${channel}`;
export const parameterPlace = (channel: number, registered: boolean, number: number): string =>
  `parameter ${channel} ${registered} ${number}`;

/** A place on a line. @param line its id, or its index */
export const placeOnLine = (line: string | number | null, place: string): string => `${line} ${place}`;

/** The place whose value a signal sets; null for signals that set none. */
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

/** A channel and number so many places on: past the 128th it goes on at the next channel. Null past the last. */
export function placeOn(
  channel: number,
  number: number,
  step: number,
): { channel: number; number: number } | null {
  const place = channel * 128 + number + step;
  return place >= 0 && place < ON_CHANNELS ? { channel: place >> 7, number: place & 0x7f } : null;
}
