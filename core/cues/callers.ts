/** What calls a moment besides Go: controls, as mappings that send a call. Any force calls; a release never does. */
import { newMapping } from '../mapping/defaults.js';
import { byText } from '../mapping/overlap.js';
import { controlsOf, highOf, type Hear } from '../hears.js';
import type { Mapping } from '../show/mapping.js';
import type { Moment } from '../show/moment.js';
import { makeSend } from '../sends.js';
import { makeShape } from '../show/shape.js';
import { ALWAYS, type When } from '../show/when.js';

/** What moves calls once, as it passes the middle upwards; what is pressed calls each time. */
const MOVES: Hear['message'][] = [
  'control',
  'control14',
  'parameter',
  'bend',
  'slot',
  'pressure',
  'notePressure',
];

const whenOf = (hear: Hear): When =>
  MOVES.includes(hear.message)
    ? { ...ALWAYS, crossing: { way: 'rises', at: Math.ceil(highOf(hear.message) / 2), back: 1 } }
    : ALWAYS;

const MARK = 'call ';

/** The moment that a caller's id is of; null for the id of a mapping. */
export const momentOfCaller = (id: string): string | null =>
  id.startsWith(MARK) ? id.slice(MARK.length, id.lastIndexOf(' ')) : null;

const made = new WeakMap<Moment, readonly Mapping[]>();

/** Callers of the same moment have ids of their own, which no row has. They are made once for each row. */
export function callersOf(moment: Moment): readonly Mapping[] {
  const known = made.get(moment);
  if (known) return known;
  const callers = makeCallers(moment);
  made.set(moment, callers);
  return callers;
}

function makeCallers({ id, callers }: Moment): Mapping[] {
  return callers.map((heard, at) => {
    // A release never calls: what is held is pressed.
    const hear: Hear = heard.message === 'held' ? { ...heard, message: 'pressed' } : heard;
    return {
      ...newMapping(`${MARK}${id} ${at}`, hear, null),
      when: whenOf(hear),
      shape: makeShape({ from: 'value', in: [0, highOf(hear.message)], out: [0, 1], curve: 'straight' }),
      sends: [makeSend({ kind: 'call', lineId: null, momentId: id })],
    };
  });
}

/** Of each moment, the others that one of its controls calls too, by its id; moments that share none are left out. */
export function sharedCallers(moments: readonly Moment[]): Map<string, Moment[]> {
  const calling = byText(
    moments.filter(({ parked }) => !parked),
    ({ callers }) => callers.flatMap(controlsOf),
  );
  const shared = new Map<string, Moment[]>();
  for (const list of calling.values()) {
    if (list.length < 2) continue;
    for (const moment of list) {
      const others = new Set([...(shared.get(moment.id) ?? []), ...list.filter((one) => one !== moment)]);
      shared.set(moment.id, [...others]);
    }
  }
  return shared;
}
