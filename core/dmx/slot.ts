/** One slot of a universe as it is recorded in the traffic: its number, high byte first, and its level. */
import type { SlotSignal } from '../signal.js';

export function encodeSlot({ slot, level }: SlotSignal, into = new Uint8Array(3)): Uint8Array {
  into[0] = slot >> 8;
  into[1] = slot & 0xff;
  into[2] = level;
  return into;
}

/** @returns null if the bytes are not a slot */
export function decodeSlot(bytes: Uint8Array): SlotSignal | null {
  if (bytes.length !== 3) return null;
  const slot = (bytes[0]! << 8) | bytes[1]!;
  return slot >= 1 && slot <= 512 ? { kind: 'slot', slot, level: bytes[2]! } : null;
}

/** `slot 5 = 128 (50 %)` */
export const describeSlot = ({ slot, level }: SlotSignal): string =>
  `slot ${slot} = ${level} (${Math.round((level / 255) * 100)} %)`;
