/** Which single controls a mapping hears and to which single places it sends, as texts by which others are found that do the same. */
import type { Hear } from '../show/hear.js';
import { channelPlace, keyPlace, oscPlace, parameterPlace, placeOnLine, slotPlace } from '../place.js';
import { followsNumber, movedOn, targetOf, type Send } from '../sends.js';
import { channelsOf, numbersOf, slotsOf } from './hear.js';

/** A mapping that hears more controls than this is meant to. */
const BROAD = 256;

const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, at) => from + at);

/** None where it hears broadly. A press and its release are one control. */
export const controlsOf = (hear: Hear): string[] =>
  controlPlaces(hear).map((place) => placeOnLine(hear.lineId, place));

function controlPlaces(hear: Hear): string[] {
  switch (hear.message) {
    case 'osc':
      return [oscPlace(hear.address)];
    case 'keyPressed':
    case 'keyHeld':
      return [keyPlace(hear.code)];
    case 'slot': {
      const [from, to] = slotsOf(hear);
      return to - from >= BROAD ? [] : range(from, to).map(slotPlace);
    }
    case 'sysex':
      return [`sysex ${hear.template.toLowerCase()}`];
    case 'showControl':
      return [`show control ${hear.command} ${hear.cue} ${hear.list} ${hear.device ?? ''}`];
    case 'parameter':
      return channelsOf(hear).map((channel) => parameterPlace(channel, hear.registered, hear.parameter));
    default: {
      const channels = channelsOf(hear);
      const [from, to] = numbersOf(hear);
      if (channels.length * (to - from + 1) > BROAD) return [];
      const sort = ['pressed', 'released', 'held'].includes(hear.message) ? 'note' : hear.message;
      return channels.flatMap((channel) =>
        range(from, to).map((number) => channelPlace(sort, channel, number)),
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
