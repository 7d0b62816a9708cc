/** What a new mapping starts with, so that it works with the least said. */
import type { MappedProtocol } from '../show/line.js';
import { ALWAYS } from '../show/when.js';
import { makeShape, type Shape } from '../show/shape.js';
import { type Hear, type HearMessage, HEARS, highOf } from '../hears.js';
import type { Mapping } from '../show/mapping.js';
import { type SendKind, type SendOf, sendAs, SENDS } from '../sends.js';

/** The message of a protocol that people mean most often. */
export const FIRST_MESSAGE: Record<MappedProtocol, HearMessage> = {
  midi: 'pressed',
  osc: 'osc',
  dmx: 'slot',
  keys: 'keyPressed',
};

/** The whole range of what a message can carry, to the whole range of what is sent. */
export function shapeFor(message: HearMessage, send: SendKind = 'osc'): Shape {
  const { number, value } = HEARS[message];
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
