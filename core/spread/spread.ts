/**
 * Spreads a range of controls over a range of targets: an octave over a row of keys, eight faders over eight notes, slots over notes that continue
 * on the next MIDI channel after the 128th (common practice).
 */
import { shapeFor } from '../mapping/defaults.js';
import { byText, targetsOf } from '../mapping/overlap.js';
import { controlsOf, hearTitle, type Hear } from '../hears.js';
import { targetOf, sendTitle, makeSend, type Send } from '../sends.js';
import { placeOn } from '../place.js';
import { mappingName } from '../mapping/words.js';
import type { KeyCode } from '../keys/codes.js';
import type { MiddleC } from '../midi/words.js';
import { ALWAYS } from '../show/when.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';

/** The controls that are heard, both ends included. `channel` is 0–15. */
export type SpreadFrom =
  | { sort: 'notes' | 'controls'; lineId: string; channel: number; numbers: [number, number] }
  | { sort: 'slots'; lineId: string; numbers: [number, number] };

/** What the first control sends. The others continue from there. */
export type SpreadTo =
  | { sort: 'keys'; lineId: string; codes: readonly KeyCode[] }
  | { sort: 'notes' | 'controls'; lineId: string; channel: number; first: number }
  | { sort: 'slots'; lineId: string; first: number }
  /** `{n}` in the address is the number. */
  | { sort: 'osc'; lineId: string; address: string; first: number };

export interface Spread {
  from: SpreadFrom;
  to: SpreadTo;
  /** For notes: true if what is sent is held as long as the note. */
  held: boolean;
}

/** One mapping that a spread makes. */
export interface SpreadRow {
  mapping: Omit<Mapping, 'id'>;
  /** `Note 53 held` */
  heard: string;
  sent: string;
  /** The conflicts with existing mappings, in words; empty for none. */
  collides: string[];
}

/** `one` is the same spread as a single ranged mapping; null if that is impossible, as with keys. */
export type Spreaded =
  { ok: true; rows: SpreadRow[]; one: Omit<Mapping, 'id'> | null } | { ok: false; reason: string };

/** The most mappings of one spread: the number of slots of a universe. */
export const MOST_ROWS = 512;

function hearOf(from: SpreadFrom, number: number, held: boolean): Hear {
  const { lineId } = from;
  if (from.sort === 'slots') return { message: 'slot', lineId, slots: [number, number], values: 'any' };
  const message = from.sort === 'controls' ? 'control' : held ? 'held' : 'pressed';
  const channels: [number, number] = [from.channel, from.channel];
  return { message, lineId, channels, numbers: [number, number], values: 'any' };
}

/** Returns what a control sends, by its place in the range; null beyond the end of the targets. */
function sendOf(to: SpreadTo, at: number): Send | null {
  const { lineId } = to;
  switch (to.sort) {
    case 'keys': {
      const code = to.codes[at];
      return code ? makeSend({ kind: 'key', lineId, code }) : null;
    }
    case 'notes': {
      const place = placeOn(to.channel, to.first, at);
      return place && makeSend({ kind: 'note', lineId, ...place });
    }
    case 'controls': {
      const place = placeOn(to.channel, to.first, at);
      return place && makeSend({ kind: 'control', lineId, ...place });
    }
    case 'slots':
      return to.first + at <= 512 ? makeSend({ kind: 'slot', lineId, slot: to.first + at }) : null;
    case 'osc':
      return makeSend({
        kind: 'osc',
        lineId,
        address: to.address.replaceAll('{n}', String(to.first + at)),
        args: [{ type: 'f', value: 'shaped' }],
      });
  }
}

/** Creates a function that returns the conflicts of a row. It looks up what mappings hear and send, so its cost does not depend on their number. */
function createCollisions(show: Show): (hear: Hear, send: Send) => string[] {
  const hearing = byText(show.mappings, ({ hear }) => controlsOf(hear));
  const sending = byText(show.mappings, ({ hear, sends }) => sends.flatMap((send) => targetsOf(hear, send)));
  return (hear, send) => {
    const target = targetOf(send) ?? '';
    const say = (list: Mapping[] | undefined, words: (name: string) => string): string[] =>
      (list ?? []).map((mapping) => words(mappingName(mapping)));
    return [
      ...controlsOf(hear).flatMap((control) => say(hearing.get(control), (name) => `${name} hears this too`)),
      ...say(sending.get(target), (name) => `${name} sends that too`),
      // The note is used by the pads of the controller on that line.
      ...(send.kind === 'note' ? say(hearing.get(target), (name) => `the note is ${name}’s own`) : []),
    ];
  };
}

/**
 * Returns the mappings that a spread would make.
 * @returns a reason in words if the ranges do not fit
 */
export function spread(show: Show, { from, to, held }: Spread): Spreaded {
  const [low, high] = from.numbers;
  const count = high - low + 1;
  if (to.sort === 'osc' && !to.address.includes('{n}'))
    return { ok: false, reason: 'Write {n} where the number goes, like /clip/{n}.' };
  const sends: Send[] = [];
  for (let at = 0; at < count; at++) {
    const send = sendOf(to, at);
    if (!send) break;
    sends.push(send);
  }
  if (to.sort === 'keys' && to.codes.length !== count)
    return { ok: false, reason: `${count} controls want ${count} keys; ${to.codes.length} are chosen.` };
  if (sends.length < count)
    return {
      ok: false,
      reason: `There is room for ${sends.length} of the ${count}: begin lower, or take fewer.`,
    };
  const { middleC } = show.settings;
  const collisions = createCollisions(show);
  const rows = sends.map((send, at): SpreadRow => {
    const hear = hearOf(from, low + at, held);
    return { ...rowOf(hear, send, middleC), collides: collisions(hear, send) };
  });
  return { ok: true, rows, one: oneOf({ from, to, held }) };
}

/** Returns where the targets go on at the next channel: the place of the first row there, and it in words. */
export function changeovers(rows: readonly SpreadRow[]): { at: number; words: string }[] {
  const channelOf = ({ mapping: { sends } }: SpreadRow): number | null =>
    sends[0] && 'channel' in sends[0] ? sends[0].channel : null;
  return rows.flatMap((row, at) => {
    const channel = channelOf(row);
    if (at === 0 || channel === null || channel === channelOf(rows[at - 1]!)) return [];
    return [{ at, words: `channel ${channel + 1} from here` }];
  });
}

/** Creates the send of a ranged mapping, which follows the heard number. */
function followingSend(to: SpreadTo, low: number): Send | null {
  if (to.sort === 'keys') return null;
  const send = sendOf(to, 0);
  if (!send) return null;
  if (to.sort !== 'osc') return { ...send, follows: true } as Send;
  const moved = to.first - low;
  const place = moved === 0 ? '{number}' : `{number${moved > 0 ? '+' : '-'}${Math.abs(moved)}}`;
  return { ...send, address: to.address.replaceAll('{n}', place) } as Send;
}

/** Creates the whole spread as one ranged mapping. */
function oneOf({ from, to, held }: Spread): Omit<Mapping, 'id'> | null {
  const [low, high] = from.numbers;
  const send = followingSend(to, low);
  if (!send) return null;
  const first = hearOf(from, low, held);
  const hear = (
    'slots' in first ? { ...first, slots: [low, high] } : { ...first, numbers: [low, high] }
  ) as Hear;
  const shape = shapeFor(hear.message, send.kind);
  return { name: '', on: true, bankId: null, hear, when: ALWAYS, shape, sends: [send], answer: null };
}

function rowOf(hear: Hear, send: Send, middleC: MiddleC): Omit<SpreadRow, 'collides'> {
  return {
    mapping: {
      name: '',
      on: true,
      bankId: null,
      hear,
      when: ALWAYS,
      shape: shapeFor(hear.message, send.kind),
      sends: [send],
      answer: null,
    },
    heard: hearTitle(hear),
    sent: sendTitle(send, middleC),
  };
}
