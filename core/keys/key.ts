/**
 * A key going down or coming up, as it travels to and from a stand-in or a browser.
 *
 * | byte | what                                                            |
 * |------|-----------------------------------------------------------------|
 * | 0    | 1 down, 0 up                                                    |
 * | 1–   | the code (W3C UI Events KeyboardEvent code Values), in ASCII    |
 */
import { Refusal } from '../refusal.js';
import type { KeySignal } from '../signal.js';
import { keyInfo, keyWords } from './codes.js';

export class KeyError extends Refusal {}

const LONGEST = 20;

/** @throws KeyError, and nothing else, with what is wrong in words. */
export function decodeKey(bytes: Uint8Array): KeySignal {
  if (bytes.length < 2 || bytes.length > 1 + LONGEST || bytes[0]! > 1)
    throw new KeyError('bytes that are not a key');
  const code = String.fromCharCode(...bytes.subarray(1));
  if (!keyInfo(code)) throw new KeyError('an unknown key');
  return { kind: 'key', code, down: bytes[0] === 1 };
}

export function encodeKey(signal: KeySignal): Uint8Array {
  const bytes = new Uint8Array(1 + signal.code.length);
  bytes[0] = signal.down ? 1 : 0;
  for (let i = 0; i < signal.code.length; i++) bytes[1 + i] = signal.code.charCodeAt(i);
  return bytes;
}

export const describeKey = ({ code, down }: KeySignal): string =>
  `key ${keyWords(code)} ${down ? 'down' : 'up'}`;
