/** OSC time tags (OSC 1.0, "Temporal Semantics and OSC Time Tags"): seconds since 1900 in the high 32 bits, fractions below. */
import { IMMEDIATELY } from './packet.js';

/** From 1 January 1900 to 1 January 1970, in seconds (RFC 868: 2,208,988,800). */
const EPOCH_SECONDS = 2_208_988_800;
const FRACTION = 2 ** 32;

/** Milliseconds since 1970, with fractions. */
export function timeTagToMs(timeTag: bigint): number {
  const seconds = Number(timeTag >> 32n) - EPOCH_SECONDS;
  return (seconds + Number(timeTag & 0xffff_ffffn) / FRACTION) * 1000;
}

/** @param ms milliseconds since 1970; from 1900 to 2036 */
export function msToTimeTag(ms: number): bigint {
  const seconds = ms / 1000 + EPOCH_SECONDS;
  const whole = Math.floor(seconds);
  return (BigInt(whole) << 32n) | BigInt(Math.floor((seconds - whole) * FRACTION));
}

/** Returns how long to wait before a bundle is processed, in ms: 0 if it is due, or meant to be processed at once. @param now milliseconds since 1970 */
export function holdMs(timeTag: bigint, now: number): number {
  return timeTag === IMMEDIATELY ? 0 : Math.max(0, timeTagToMs(timeTag) - now);
}
