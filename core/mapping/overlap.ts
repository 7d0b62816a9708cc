/** The single places that a mapping sends to, and how mappings that share a control or a place are found. */
import { BROAD, range } from '../hears/midi.js';
import type { Hear } from '../hears.js';
import { followsNumber, movedOn, targetOf, type Send } from '../sends.js';
import { numbersOf, slotsOf } from '../hears/parts.js';

/** How many places a send that follows the heard number goes to. */
const spreadOf = (hear: Hear): number => {
  const [from, to] = 'slots' in hear ? slotsOf(hear) : numbersOf(hear);
  return to - from + 1;
};

/** The places that a mapping's send goes to, written as the controls that would come from there; none where they are no places. */
export function targetsOf(hear: Hear, send: Send): string[] {
  const target = targetOf(send);
  if (target === null) return [];
  if (!followsNumber(send)) return [target];
  return range(0, Math.min(BROAD, spreadOf(hear)) - 1).flatMap((step) => {
    const on = movedOn(send, step);
    return (on && targetOf(on)) ?? [];
  });
}

/** Items by each of their texts, in their order. */
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
