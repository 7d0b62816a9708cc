/** Which single controls a mapping hears and to which single places it sends, as texts by which others are found that do the same. */
import type { Hear } from '../show/hear.js';
import type { Send } from '../show/send.js';
import { channelsOf, numbersOf, slotsOf } from './hear.js';
import { followsNumber, placeOn } from './sends.js';

/** A mapping that hears more controls than this is meant to. */
const BROAD = 256;

const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, at) => from + at);

/** None where it hears broadly. A press and its release are one control. */
export function controlsOf(hear: Hear): string[] {
  const { lineId } = hear;
  switch (hear.message) {
    case 'osc':
      return [`${lineId} osc ${hear.address}`];
    case 'keyPressed':
    case 'keyHeld':
      return [`${lineId} key ${hear.code}`];
    case 'slot': {
      const [from, to] = slotsOf(hear);
      return to - from >= BROAD ? [] : range(from, to).map((slot) => `${lineId} slot ${slot}`);
    }
    case 'sysex':
      return [`${lineId} sysex ${hear.template.toLowerCase()}`];
    case 'showControl':
      return [`${lineId} show control ${hear.command} ${hear.cue} ${hear.list} ${hear.device ?? ''}`];
    case 'parameter':
      return channelsOf(hear).map(
        (channel) => `${lineId} parameter ${channel} ${hear.registered} ${hear.parameter}`,
      );
    default: {
      const channels = channelsOf(hear);
      const [from, to] = numbersOf(hear);
      if (channels.length * (to - from + 1) > BROAD) return [];
      const sort = ['pressed', 'released', 'held'].includes(hear.message) ? 'note' : hear.message;
      return channels.flatMap((channel) =>
        range(from, to).map((number) => `${lineId} ${sort} ${channel} ${number}`),
      );
    }
  }
}

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

/** A send that follows, for a control so many places on. Null past the last place. */
export function movedOn(send: Send, step: number): Send | null {
  switch (send.kind) {
    case 'note':
    case 'control': {
      const place = placeOn(send.channel, send.number, step);
      return place && { ...send, ...place, follows: false };
    }
    case 'slot': {
      const slot = send.slot + step * (send.fine ? 2 : 1);
      return slot <= 512 ? { ...send, slot, follows: false } : null;
    }
    default:
      return send;
  }
}

/** The place that a send goes to, written as the control that would come from there; null where it is not one place. */
export function targetOf(send: Send): string | null {
  const { lineId } = send;
  switch (send.kind) {
    case 'osc':
      return send.address.includes('{') ? null : `${lineId} osc ${send.address}`;
    case 'note':
    case 'control':
    case 'control14':
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
