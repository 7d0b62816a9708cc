/** A mapping made ready for the way of a signal: nothing is looked up, parsed or allocated when it fires. */
import type { Mapping } from '../show/mapping.js';
import type { Send } from '../show/send.js';
import { createGate, type Gate } from './gate.js';
import { HEAR_MESSAGES } from './hear.js';
import { compileSend, type CompiledSend } from './sends.js';
import { createShaper, seedOf, type Shaper } from './shape.js';

/** One of the things that a mapping sends, at work. */
export interface ActiveSend extends CompiledSend {
  /** Index of the line it sends on; -1 where that line is not there. */
  line: number;
  /** Nothing leaves it, since the line it sends on is muted. */
  muted: boolean;
  delayMs: number;
  /** The shaped value, in what this one can carry. */
  own(shaped: number): number;
  /** Of a note: how long it sounds; null: as long as what is heard is held. */
  lengthMs: number | null;
  /** Of a key: how often it is pressed again while it is down; 0 for never. */
  repeatMs: number;
  /** What it sent last sounds, or is held, until it is released. */
  sounding: boolean;
  /** Counts presses and releases, so that what was planned for an earlier one is known to be out of date. */
  turn: number;
}

/** A glide on its way to a value. */
export interface Glide {
  from: number;
  to: number;
  /** Monotonic ms. */
  since: number;
  /** Where it was last. */
  at: number;
}

export interface CompiledMapping {
  source: Mapping;
  /** Its place in the sheet; what one signal makes several mappings send leaves in this order. */
  order: number;
  /** Index of the line it hears; -1 where that line is not there or is muted. */
  inLine: number;
  usesNumber: boolean;
  /** It hears presses and releases. */
  holds: boolean;
  /** When it heeds what it hears; null for always. */
  gate: Gate | null;
  /** Only while this is held, as line << 11 | channel << 7 | number; -1 for always. */
  shift: number;
  shaper: Shaper;
  sends: ActiveSend[];
  glide: Glide | null;
  /** Notes it holds now, as channel << 7 | number. */
  held: Set<number>;
  /** It is held, and waits until it has been for as long as is wanted. */
  waiting: boolean;
  /** Counts how often it waited. */
  waits: number;
  // What happened last, for those who look on.
  fired: number;
  lastHeard: number;
  lastShaped: number;
  lastAt: number;
  reported: boolean;
}

/** Where a mapping's lines are: what it hears on, and for each of its sends what it is sent on. */
export interface MappingLines {
  inLine: number;
  outs: { line: number; muted: boolean }[];
}

const asItIs = (shaped: number): number => shaped;

/** Lays one range over another; where the first has no width, its value is the second's upper end. */
export function ownRange(
  [from, to]: [number, number],
  range: [number, number] | null,
): (shaped: number) => number {
  if (!range) return asItIs;
  const [low, high] = range;
  if (to === from) return () => high;
  return (shaped) => (shaped === to ? high : low + ((shaped - from) / (to - from)) * (high - low));
}

/** All members in one literal: objects of one shape are what the way of a signal is fast with. */
function activate(
  send: Send,
  { line, muted }: MappingLines['outs'][number],
  out: [number, number],
): ActiveSend {
  const { signals, fill, release } = compileSend(send);
  return {
    signals,
    fill,
    release,
    line,
    muted,
    delayMs: send.delayMs,
    own: ownRange(out, send.range),
    lengthMs: send.kind === 'note' ? send.lengthMs : null,
    repeatMs: send.kind === 'key' ? send.repeatMs : 0,
    sounding: false,
    turn: 0,
  };
}

export function compileMapping(
  source: Mapping,
  order: number,
  { inLine, outs }: MappingLines,
  seed: number,
): CompiledMapping {
  const { shift } = source.when;
  return {
    source,
    order,
    inLine,
    usesNumber: source.shape.from === 'number',
    holds: HEAR_MESSAGES[source.hear.message].holds,
    gate: createGate(source.when),
    shift: shift ? (inLine << 11) | (shift.channel << 7) | shift.number : -1,
    shaper: createShaper(source.shape, seedOf(source.id, seed)),
    sends: source.sends.map((send, at) => activate(send, outs[at]!, source.shape.out)),
    glide: null,
    held: new Set(),
    waiting: false,
    waits: 0,
    fired: 0,
    lastHeard: 0,
    lastShaped: 0,
    lastAt: 0,
    reported: true,
  };
}
