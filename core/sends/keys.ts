/** What the sends of keys share: keys that go down, and come up in the opposite order. */
import { whole } from '../show/fields.js';
import type { KeyCode } from '../keys/codes.js';
import type { KeySignal } from '../signal.js';

const TAP = 'A tap is 0 to 10 000 ms long.';
/** How long a tap stays down, in ms. Programs that poll their keys miss one that is down and up at once. */
export const tapMs = whole(0, 10_000, TAP).default(30);

const keySignal = (code: KeyCode, down: boolean): KeySignal => ({ kind: 'key', code, down });

export const keysDown = (codes: readonly KeyCode[]): KeySignal[] =>
  codes.map((code) => keySignal(code, true));
export const keysUp = (codes: readonly KeyCode[]): KeySignal[] =>
  codes.toReversed().map((code) => keySignal(code, false));
