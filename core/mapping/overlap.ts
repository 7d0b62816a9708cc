/** Finds mappings that share a control or a place. */
import { BROAD, range } from '../hears/midi.js';
import type { Hear } from '../hears.js';
import { followsNumber, movedOn, targetOf, type Send } from '../sends.js';
import { numbersOf, slotsOf } from '../hears/parts.js';

/** Returns the number of places that a send can go to. */
const spreadOf = (hear: Hear): number => {
  const [from, to] = 'slots' in hear ? slotsOf(hear) : numbersOf(hear);
  return to - from + 1;
};

/** Returns the places that a send goes to, written like the controls that would send from there; none if it has no places. */
export function targetsOf(hear: Hear, send: Send): string[] {
  const target = targetOf(send);
  if (target === null) return [];
  if (!followsNumber(send)) return [target];
  return range(0, Math.min(BROAD, spreadOf(hear)) - 1).flatMap((step) => {
    const on = movedOn(send, step);
    return (on && targetOf(on)) ?? [];
  });
}

/** Groups items by each of their texts, in order. */
export function byText<T>(items: readonly T[], textsOf: (item: T) => readonly string[]): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const item of items) {
    for (const text of new Set(textsOf(item))) {
      const list = found.get(text);
      if (list) list.push(item);
      else found.set(text, [item]);
    }
  }
  return found;
}
