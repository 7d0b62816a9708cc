/** What a new mapping starts with, so that it works with the least said. */
import type { Hear, HearMessage, Mapping, Shape } from '../show.js';
import { HEAR_MESSAGES } from './hear.js';

/** A hear of a message kind, keeping what it can of another: any channel, any number, any force unless it had one. */
export function hearAs(message: HearMessage, from?: Hear): Hear {
  const lineId = from?.lineId ?? null;
  if (message === 'osc') return { message, lineId, address: '/any/thing' };
  const channels = from && 'channels' in from ? from.channels : 'any';
  const numbers = from && 'numbers' in from ? from.numbers : 'any';
  switch (message) {
    case 'program':
      return { message, lineId, channels, numbers };
    case 'pressure':
    case 'bend':
      return { message, lineId, channels, values: 'any' };
    default:
      return { message, lineId, channels, numbers, values: 'any' };
  }
}

/** The whole range of what a message can carry, to 0–1. */
export function shapeFor(message: HearMessage): Shape {
  const info = HEAR_MESSAGES[message];
  const high = message === 'osc' ? 1 : (info.value?.high ?? 127);
  return {
    from: info.value || message === 'osc' ? 'value' : 'number',
    in: [0, high],
    out: [0, 1],
    curve: 'straight',
  };
}

export function newMapping(id: string, hear: Hear, sendLineId: string | null): Mapping {
  return {
    id,
    name: '',
    on: true,
    bankId: null,
    hear,
    shape: shapeFor(hear.message),
    send: {
      kind: 'osc',
      lineId: sendLineId,
      address: '/new/address',
      args: [{ type: 'f', value: 'shaped' }],
    },
  };
}
