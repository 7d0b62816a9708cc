/** What the sends of keys share: keys that go down, and come up in the opposite order. */
import type { KeyCode } from '../keys/codes.js';
import type { KeySignal } from '../signal.js';

const keySignal = (code: KeyCode, down: boolean): KeySignal => ({ kind: 'key', code, down });

export const keysDown = (codes: readonly KeyCode[]): KeySignal[] =>
  codes.map((code) => keySignal(code, true));
export const keysUp = (codes: readonly KeyCode[]): KeySignal[] =>
  codes.toReversed().map((code) => keySignal(code, false));
