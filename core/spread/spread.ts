/**
 * A range spread over a range in one go: an octave over a row of keys, eight faders over eight notes, slots over pitches that go on
 * at the next MIDI channel after the 128th (common practice).
 */
import { shapeFor } from '../mapping/defaults.js';
import { hearTitle, mappingName, sendTitle } from '../mapping/words.js';
import type { KeyCode } from '../keys/codes.js';
import type { MiddleC } from '../midi/words.js';
import { ALWAYS, makeSend, type Hear, type Mapping, type Send } from '../show/mapping.js';
import type { Show } from '../show.js';

/** What is heard, one control after another, both ends included. `channel` 0–15. */
export type SpreadFrom =
  | { sort: 'notes' | 'controls'; lineId: string; channel: number; numbers: [number, number] }
  | { sort: 'slots'; lineId: string; numbers: [number, number] };

/** What the first of them sends; the next ones go on from there. */
export type SpreadTo =
  | { sort: 'keys'; lineId: string; codes: readonly KeyCode[] }
  | { sort: 'notes' | 'controls'; lineId: string; channel: number; first: number }
  | { sort: 'slots'; lineId: string; first: number }
  /** `{n}` in the address is the number. */
  | { sort: 'osc'; lineId: string; address: string; first: number };

export interface Spread {
  from: SpreadFrom;
  to: SpreadTo;
  /** Of notes: what is sent is held as long as the note. */
  held: boolean;
}

/** One of what a spread makes. */
export interface SpreadRow {
  mapping: Omit<Mapping, 'id'>;
  /** `Note 53 held` */
  heard: string;
  sent: string;
  /** What it gets in the way of, in words; empty for nothing. */
  collides: string[];
}

export type Spreaded = { ok: true; rows: SpreadRow[] } | { ok: false; reason: string };

/** No more than a universe has slots. */
export const MOST_ROWS = 512;

function hearOf(from: SpreadFrom, number: number, held: boolean): Hear {
  const { lineId } = from;
  if (from.sort === 'slots') return { message: 'slot', lineId, slots: [number, number], values: 'any' };
  const message = from.sort === 'controls' ? 'control' : held ? 'held' : 'pressed';
  const channels: [number, number] = [from.channel, from.channel];
  return { message, lineId, channels, numbers: [number, number], values: 'any' };
}

/** A channel and number so many places on: past the 128th it goes on at the next channel. Null past the last. */
function placeOn(channel: number, number: number): { channel: number; number: number } | null {
  const place = channel * 128 + number;
  return place < 16 * 128 ? { channel: place >> 7, number: place & 0x7f } : null;
}

/** What the control at this place sends; null where the range that is sent has ended. */
function sendOf(to: SpreadTo, at: number): Send | null {
  const { lineId } = to;
  switch (to.sort) {
    case 'keys': {
      const code = to.codes[at];
      return code ? makeSend({ kind: 'key', lineId, code }) : null;
    }
    case 'notes': {
      const place = placeOn(to.channel, to.first + at);
      return place && makeSend({ kind: 'note', lineId, ...place });
    }
    case 'controls': {
      const place = placeOn(to.channel, to.first + at);
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

/** The one place that a send goes to, as text, to find others that go there too. */
function targetOf(send: Send): string | null {
  switch (send.kind) {
    case 'osc':
      return `${send.lineId} ${send.address}`;
    case 'note':
    case 'control':
      return `${send.lineId} ${send.kind} ${send.channel} ${send.number}`;
    case 'slot':
      return `${send.lineId} slot ${send.slot}`;
    case 'key':
      return `${send.lineId} key ${send.code}`;
    default:
      return null;
  }
}

const takesIn = (span: 'any' | [number, number], value: number): boolean =>
  span === 'any' || (value >= span[0] && value <= span[1]);

/** Whether two mappings hear the same control; a press and its release are one control. */
function sameControl(a: Hear, b: Hear): boolean {
  if (a.lineId !== b.lineId) return false;
  const noteLike = (hear: Hear): boolean => ['pressed', 'released', 'held'].includes(hear.message);
  if (a.message !== b.message && !(noteLike(a) && noteLike(b))) return false;
  if ('slots' in a && 'slots' in b) return a.slots !== 'any' && takesIn(b.slots, a.slots[0]);
  if (!('numbers' in a && 'numbers' in b) || a.numbers === 'any' || a.channels === 'any') return false;
  return takesIn(b.numbers, a.numbers[0]) && takesIn(b.channels, a.channels[0]);
}

/** Whether a mapping hears, on the line that this is sent on, just the note that is sent: the controller's own pads use it. */
function hearsNote(hear: Hear, send: Send): boolean {
  if (send.kind !== 'note' || hear.lineId !== send.lineId) return false;
  if (!('numbers' in hear) || !['pressed', 'released', 'held'].includes(hear.message)) return false;
  return hear.numbers !== 'any' && takesIn(hear.numbers, send.number) && takesIn(hear.channels, send.channel);
}

function collisions(show: Show, hear: Hear, send: Send): string[] {
  const found: string[] = [];
  const target = targetOf(send);
  for (const other of show.mappings) {
    if (sameControl(hear, other.hear)) found.push(`${mappingName(other)} hears this too`);
    if (target !== null && other.sends.some((one) => targetOf(one) === target))
      found.push(`${mappingName(other)} sends that too`);
    if (hearsNote(other.hear, send)) found.push(`the note is ${mappingName(other)}’s own`);
  }
  return found;
}

/**
 * What a spread makes, to be looked at before it is made.
 * @returns a reason in words where the ranges do not fit
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
  return {
    ok: true,
    rows: sends.map((send, at) => rowOf(show, hearOf(from, low + at, held), send, middleC)),
  };
}

function rowOf(show: Show, hear: Hear, send: Send, middleC: MiddleC): SpreadRow {
  return {
    mapping: {
      name: '',
      on: true,
      bankId: null,
      hear,
      when: ALWAYS,
      shape: shapeFor(hear.message, send.kind),
      sends: [send],
    },
    heard: hearTitle(hear),
    sent: sendTitle(send, middleC),
    collides: collisions(show, hear, send),
  };
}
