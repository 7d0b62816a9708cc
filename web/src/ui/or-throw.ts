import type { Typed } from '@tawny-signal/core/typed/range';

/** What was typed, or an error with what may be typed. */
export function orThrow<T>(typed: Typed<T>): T {
  if (!typed.ok) throw new Error(typed.reason);
  return typed.value;
}
