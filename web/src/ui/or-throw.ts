import type { Typed } from '@tawny-signal/core/typed/range';

/** Returns what was typed, or throws an error that says what may be typed. */
export function orThrow<T>(typed: Typed<T>): T {
  if (!typed.ok) throw new Error(typed.reason);
  return typed.value;
}
