/** What a new mapping starts with, so that it works with the least said. */
import type { Protocol } from '../show/line.js';
import { ALWAYS } from '../show/when.js';
import { makeShape, type Shape } from '../show/shape.js';
import type { Hear, HearMessage } from '../show/hear.js';
import type { Mapping } from '../show/mapping.js';
import { type SendKind, type SendOf, sendAs, SENDS } from '../sends.js';
import { HEAR_MESSAGES, highOf } from './hear.js';

/** A hear of a message kind, keeping what it can of another: any channel, any number, any force unless it had one. */
export function hearAs(message: HearMessage, from?: Hear): Hear {
  const lineId = from?.lineId ?? null;
  const channels = from && 'channels' in from ? from.channels : 'any';
  const numbers = from && 'numbers' in from ? from.numbers : 'any';
  switch (message) {
    case 'osc':
      return { message, lineId, address: '/any/thing', argument: 0 };
    case 'control14': {
      const within = numbers === 'any' || numbers[1] > 31 ? 'any' : numbers;
      return { message, lineId, channels, numbers: within, values: 'any' };
    }
    case 'parameter':
      return { message, lineId, channels, registered: false, parameter: 0, values: 'any' };
    case 'sysex':
      return { message, lineId, template: 'F0 7D vv F7' };
    case 'showControl':
      return { message, lineId, device: null, command: 'go', cue: '', list: '' };
    case 'slot':
      return { message, lineId, slots: 'any', values: 'any' };
    case 'keyPressed':
    case 'keyHeld':
      return { message, lineId, code: from && 'code' in from ? from.code : 'KeyA' };
    case 'program':
      return { message, lineId, channels, numbers };
    case 'pressure':
    case 'bend':
      return { message, lineId, channels, values: 'any' };
    default:
      return { message, lineId, channels, numbers, values: 'any' };
  }
}

/** The message of a protocol that people mean most often. */
export const FIRST_MESSAGE: Record<Protocol, HearMessage> = {
  midi: 'pressed',
  osc: 'osc',
  dmx: 'slot',
  keys: 'keyPressed',
};

/** The whole range of what a message can carry, to the whole range of what is sent. */
export function shapeFor(message: HearMessage, send: SendKind = 'osc'): Shape {
  const { number, value } = HEAR_MESSAGES[message];
  return makeShape({
    from: number && !value ? 'number' : 'value',
    in: [0, highOf(message)],
    out: SENDS[send].out,
    curve: 'straight',
  });
}

export function newMapping(
  id: string,
  hear: Hear,
  sendLineId: string | null,
): Mapping & { sends: [SendOf<'osc'>] } {
  return {
    id,
    name: '',
    on: true,
    bankId: null,
    hear,
    when: ALWAYS,
    shape: shapeFor(hear.message),
    sends: [sendAs('osc', sendLineId)],
    answer: null,
  };
}
