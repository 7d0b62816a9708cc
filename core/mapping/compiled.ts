/** A mapping made ready for the way of a signal: nothing is looked up, parsed or allocated when it fires. */
import type { Read } from '../hears/kind.js';
import type { Mapping } from '../show/mapping.js';
import { type Send, compileSend, followsNumber } from '../sends.js';
import { createGate, type Gate } from './gate.js';
import { HEARS } from '../hears.js';
import { byHand, type Heard } from './heard.js';
import type { CompiledSend, SendPlace } from '../sends/compiled.js';
import { createShaper, finishValue, seedOf, type Shaper } from './shape.js';
import type { Signal } from '../signal.js';

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
  /** Of a key: it is let go at once. */
  taps: boolean;
  /** Of a slot: how long it takes from the level that the slot has. */
  fadeMs: number;
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
  /** The step of the engine that it belongs to (core/because). */
  because: number;
}

/** What a mapping did last, for those who look on. Of a mapping that follows the heard number: whichever number it was. */
export interface Tally {
  fired: number;
  lastHeard: number;
  lastShaped: number;
  lastAt: number;
  reported: boolean;
}

export interface CompiledMapping {
  source: Mapping;
  /** Its place in the sheet; what one signal makes several mappings send leaves in this order. */
  order: number;
  /** Index of the line it hears; -1 where that line is not there or is muted. */
  inLine: number;
  /** Its bank, and the bank that it wants to be on, are. */
  live: boolean;
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
  /** What it took last. */
  heard: Heard;
  /** What was shaped last; 0 at first. */
  shaped: number;
  tally: Tally;
  /** How what arrives is read: the open parts of the address, or the bytes. */
  read: Read;
  /** Itself; of a voice, the mapping that it is a voice of. */
  root: CompiledMapping;
  /** Of a mapping whose sends follow the heard number: what each other number than the lowest makes of it, by how far it is above. */
  voices: Map<number, CompiledMapping> | null;
  /** How far its number is above the lowest. */
  step: number;
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
  place: SendPlace,
): ActiveSend {
  const { signals, fill, releases, later, act } = compileSend(send, place);
  return {
    signals,
    fill,
    releases,
    later,
    act,
    line,
    muted,
    delayMs: send.delayMs,
    own: ownRange(out, send.range),
    lengthMs: 'lengthMs' in send ? send.lengthMs : null,
    repeatMs: 'repeatMs' in send && !send.tap ? send.repeatMs : 0,
    taps: 'tap' in send && send.tap,
    fadeMs: 'fadeMs' in send ? send.fadeMs : 0,
    sounding: false,
    turn: 0,
  };
}

const newTally = (): Tally => ({ fired: 0, lastHeard: 0, lastShaped: 0, lastAt: 0, reported: true });

export function compileMapping(
  source: Mapping,
  order: number,
  { inLine, outs }: MappingLines,
  seed: number,
): CompiledMapping {
  return compileVoice(source, order, { inLine, outs }, seed, null, 0);
}

function compileVoice(
  source: Mapping,
  order: number,
  { inLine, outs }: MappingLines,
  seed: number,
  root: CompiledMapping | null,
  step: number,
): CompiledMapping {
  const { shift } = source.when;
  const { shape } = source;
  const place: SendPlace = { step, colour: shape.colour };
  const made: Omit<CompiledMapping, 'root'> & { root: CompiledMapping | null } = {
    source,
    order,
    inLine,
    live: true,
    usesNumber: shape.from === 'number',
    holds: HEARS[source.hear.message].holds,
    gate: createGate(source.when),
    shift: shift ? (inLine << 11) | (shift.channel << 7) | shift.number : -1,
    shaper: createShaper(shape, seedOf(source.id, seed) + step),
    sends: source.sends.map((send, at) => activate(send, outs[at]!, shape.out, place)),
    glide: null,
    held: new Set(),
    waiting: false,
    waits: 0,
    heard: byHand(0, 0),
    shaped: 0,
    tally: root?.tally ?? newTally(),
    read: root?.read ?? HEARS[source.hear.message].reader(source.hear, source.shape.texts),
    root,
    voices: root === null && source.sends.some(followsNumber) ? new Map() : null,
    step,
  };
  made.root ??= made as CompiledMapping;
  return made as CompiledMapping;
}

/** A step further than this leads nowhere: 16 channels of 128. */
const MOST_STEPS = 16 * 128;

/**
 * What the number that was heard makes of a mapping whose sends follow it; null where it leads past the last place.
 * @param step a whole number from 0 on
 */
export function voiceAt(root: CompiledMapping, step: number, seed: number): CompiledMapping | null {
  if (step === 0) return root;
  if (step >= MOST_STEPS) return null;
  const known = root.voices!.get(step);
  if (known) return known;
  const lines = { inLine: root.inLine, outs: root.sends.map(({ line, muted }) => ({ line, muted })) };
  const voice = compileVoice(root.source, root.order, lines, seed, root, step);
  root.voices!.set(step, voice);
  return voice;
}

/** A signal that takes back what a mapping holds on a line. */
export interface LowEnd {
  line: number;
  signal: Signal;
}

/** What the low end of a mapping's range sends to what has no release of its own: signals of their own. */
export function lowEndsOf(mapping: CompiledMapping): LowEnd[] {
  const { source, step, shaper, heard } = mapping;
  const shaped = finishValue(source.shape, shaper.lowEnd());
  return mapping.sends.flatMap(({ releases, act, line, muted, own }, at) => {
    if (releases.length > 0 || act !== null || muted || line < 0) return [];
    const compiled = compileSend(source.sends[at]!, { step, colour: source.shape.colour });
    return compiled.fill(own(shaped), heard) === 'signals'
      ? compiled.signals.map((signal) => ({ line, signal }))
      : [];
  });
}

/** A mapping, and what it is for each number that was heard. */
export function* withVoices(root: CompiledMapping): Iterable<CompiledMapping> {
  yield root;
  if (root.voices) yield* root.voices.values();
}
