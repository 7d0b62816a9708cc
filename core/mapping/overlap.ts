/** Which single controls a mapping hears and to which single places it sends, as texts by which others are found that do the same. */
import type { Hear } from '../show/hear.js';
import type { Send } from '../show/send.js';
import { channelsOf, numbersOf, slotsOf } from './hear.js';

/** A mapping that hears more controls than this is meant to. */
const BROAD = 256;

const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, at) => from + at);

/** None where it hears broadly. A press and its release are one control. */
export function controlsOf(hear: Hear): string[] {
  const { lineId } = hear;
  if (hear.message === 'osc') return [`${lineId} osc ${hear.address}`];
  if ('code' in hear) return [`${lineId} key ${hear.code}`];
  if (hear.message === 'slot') {
    const [from, to] = slotsOf(hear);
    return to - from >= BROAD ? [] : range(from, to).map((slot) => `${lineId} slot ${slot}`);
  }
  const [fromChannel, toChannel] = channelsOf(hear);
  const [from, to] = numbersOf(hear);
  if ((toChannel - fromChannel + 1) * (to - from + 1) > BROAD) return [];
  const sort = ['pressed', 'released', 'held'].includes(hear.message) ? 'note' : hear.message;
  return range(fromChannel, toChannel).flatMap((channel) =>
    range(from, to).map((number) => `${lineId} ${sort} ${channel} ${number}`),
  );
}

/** The place that a send goes to, written as the control that would come from there; null where it is not one place. */
export function targetOf(send: Send): string | null {
  const { lineId } = send;
  switch (send.kind) {
    case 'osc':
      return `${lineId} osc ${send.address}`;
    case 'note':
    case 'control':
      return `${lineId} ${send.kind} ${send.channel} ${send.number}`;
    case 'slot':
      return `${lineId} slot ${send.slot}`;
    case 'key':
      return `${lineId} key ${send.code}`;
    default:
      return null;
  }
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
