/** A compiled mapping. Everything is looked up, parsed and allocated in advance, so that firing it does none of that. */
import type { Read } from '../hears/kind.js';
import type { Mapping } from '../show/mapping.js';
import { type Send, type SendOf, compileSend, followsNumber, SENDS } from '../sends.js';
import { inMs, isNone, SHORTEST_BEATS, type BeatSpan, type Pace, type Span } from '../time/span.js';
import { createGate, type Gate } from './gate.js';
import { HEARS } from '../hears.js';
import { byHand, type Heard } from './heard.js';
import type { CompiledSend, SendPlace } from '../sends/compiled.js';
import { createShaper, seedOf, type Shaper } from './shape.js';
import type { Signal } from '../signal.js';

/** One send of a compiled mapping, with its state. */
export interface ActiveSend extends CompiledSend {
  /** Index of the line it sends on; -1 if that line does not exist. */
  line: number;
  /** True if the line it sends on is muted. */
  muted: boolean;
  /** Null if it is sent at once. */
  delay: Span | null;
  /** True if its signals leave at once and nothing follows them: no delay, fade or release, and no act. */
  direct: boolean;
  /** Converts the shaped value to the range of this send. */
  own(shaped: number): number;
  /** Length of a note, or of a key that is tapped; null if it sounds until its control is released. */
  length: Span | null;
  /** Interval at which a key repeats while it is down; null for no repeats. */
  repeat: Span | null;
  /** Time in which a slot fades from its current level; null if it is set at once. */
  fade: Span | null;
  /** True while the last thing it sent sounds and has not been released. */
  sounding: boolean;
  /** Counts presses and releases. A plan that was made for an earlier count is out of date. */
  turn: number;
}

/** A glide of the shaped value. */
export interface Glide {
  from: number;
  to: number;
  /** The way from one to the other; null where it stands. */
  pace: Pace | null;
  /** The last value that was sent. */
  at: number;
  /** The step to credit it to (core/because). */
  because: number;
}

/** What a mapping did last, for observers. All voices of a mapping share one. */
export interface Tally {
  fired: number;
  lastHeard: number;
  lastShaped: number;
  lastAt: number;
  reported: boolean;
}

export interface CompiledMapping {
  source: Mapping;
  /** Its place in the sheet. Mappings that hear the same signal send in this order. */
  order: number;
  /** Index of the line it hears; -1 if that line does not exist or is muted. */
  inLine: number;
  /** True while its own bank, and the bank that its conditions require, are on. */
  live: boolean;
  usesNumber: boolean;
  /** True if its signals go the shortest path (core/mapping/straight). */
  straight: boolean;
  /** True if it hears both presses and releases. */
  holds: boolean;
  /** The conditions under which it accepts a value; null for none. */
  gate: Gate | null;
  /** The note that must be down, as line << 11 | channel << 7 | number; -1 for none. */
  shift: number;
  shaper: Shaper;
  sends: ActiveSend[];
  /** How long it glides to a new value; null if it goes there at once. */
  glides: Span | null;
  glide: Glide | null;
  /** Controls that hold it down now: notes as channel << 7 | number, and the marks of the performer. */
  held: Set<number>;
  /** True while it is held but has not yet been held for the required time. */
  waiting: boolean;
  /** Counts how often it has waited. A plan that was made for an earlier count is out of date. */
  waits: number;
  /** The last accepted input. */
  heard: Heard;
  /** The last shaped value; 0 at first. */
  shaped: number;
  tally: Tally;
  /** Reads a signal: its value, and the open parts of an address or of bytes. */
  read: Read;
  /** The mapping that this voice was made from, or the mapping itself. */
  root: CompiledMapping;
  /** Voices by their distance from the lowest number that is heard, if the sends follow the number; else null. */
  voices: Map<number, CompiledMapping> | null;
  /** The distance of this voice from the lowest number. */
  step: number;
}

/** The indexes of the lines of a mapping: its input, and the output of each send. */
export interface MappingLines {
  inLine: number;
  outs: { line: number; muted: boolean }[];
}

const asItIs = (shaped: number): number => shaped;

/** Returns a function that maps one range to another. If the first has no width, everything becomes the upper end of the second. */
export function ownRange(
  [from, to]: [number, number],
  range: [number, number] | null,
): (shaped: number) => number {
  if (!range) return asItIs;
  const [low, high] = range;
  if (to === from) return () => high;
  return (shaped) => (shaped === to ? high : low + ((shaped - from) / (to - from)) * (high - low));
}

const unlessNone = (ms: number, beats: BeatSpan | null): Span | null =>
  isNone({ ms, beats }) ? null : { ms, beats };

/** On each beat or bar means on the one after this, so that it never repeats without end at once. */
function repeatOf({ repeatMs, repeatBeats }: SendOf<'key'>): Span | null {
  if (repeatBeats?.beats === 0 && repeatBeats.on !== null)
    return { ms: 0, beats: { beats: SHORTEST_BEATS, on: repeatBeats.on } };
  return unlessNone(repeatMs, repeatBeats);
}

/** Makes a send ready. Creates all members in one literal: the engine is fast with objects of one shape. */
export function activate(
  send: Send,
  { line, muted }: MappingLines['outs'][number],
  out: [number, number],
  place: SendPlace,
  holds: boolean,
): ActiveSend {
  const { signals, fill, releases, later, act } = compileSend(send, place);
  const delay = unlessNone(send.delayMs, send.delayBeats);
  const fade = 'fadeMs' in send ? unlessNone(send.fadeMs, send.fadeBeats) : null;
  // A key is tapped, too, if its mapping never hears a release.
  const tapMs = 'tap' in send && (send.tap || !holds) ? send.tapMs : null;
  return {
    signals,
    fill,
    releases,
    later,
    act,
    line,
    muted,
    delay,
    direct: delay === null && fade === null && releases.length + later.length === 0 && act === null,
    own: ownRange(out, send.range),
    length: SENDS[send.kind].length?.(send) ?? (tapMs === null ? null : inMs(tapMs)),
    repeat: 'repeatMs' in send && tapMs === null ? repeatOf(send) : null,
    fade,
    sounding: false,
    turn: 0,
  };
}

/** Whether the signals of a mapping can go the shortest path (core/mapping/straight). */
export const isStraight = (mapping: Omit<CompiledMapping, 'root' | 'straight'>): boolean =>
  !mapping.holds &&
  mapping.gate === null &&
  mapping.shift < 0 &&
  mapping.voices === null &&
  mapping.shaper.stateless &&
  mapping.glides === null &&
  mapping.source.answer === null &&
  mapping.sends.every((send) => send.direct);

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
  const { holds } = HEARS[source.hear.message];
  const place: SendPlace = { step, colour: shape.colour };
  const made: Omit<CompiledMapping, 'root'> & { root: CompiledMapping | null } = {
    source,
    order,
    inLine,
    live: true,
    usesNumber: shape.from === 'number',
    straight: false,
    holds,
    gate: createGate(source.when),
    shift: shift ? (inLine << 11) | (shift.channel << 7) | shift.number : -1,
    shaper: createShaper(shape, seedOf(source.id, seed) + step),
    sends: source.sends.map((send, at) => activate(send, outs[at]!, shape.out, place, holds)),
    glides: unlessNone(shape.glideMs, shape.glideBeats),
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
  made.straight = isStraight(made);
  return made as CompiledMapping;
}

/** The largest distance of a voice: 16 channels of 128. */
const MOST_STEPS = 16 * 128;

/**
 * Returns the voice of a mapping at a distance from its lowest number, and creates it if necessary; null if a send would leave its range.
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

/** A signal that undoes what a mapping holds on a line. */
export interface LowEnd {
  line: number;
  signal: Signal;
}

/** Something that a mapping or a voice holds and that has no release message, such as a DMX level. */
export interface HoldChange {
  /** Identifies what holds it. */
  key: string;
  /** The signals that undo it; empty once nothing is held. */
  lowEnds: LowEnd[];
}

/** Returns new signals that set everything that has no release message to the low end of the mapping's range. */
export function lowEndsOf(mapping: CompiledMapping): LowEnd[] {
  const { source, step, shaper, heard } = mapping;
  const shaped = shaper.finish(shaper.lowEnd());
  return mapping.sends.flatMap(({ releases, act, line, muted, own }, at) => {
    if (releases.length > 0 || act !== null || muted || line < 0) return [];
    const compiled = compileSend(source.sends[at]!, { step, colour: source.shape.colour });
    return compiled.fill(own(shaped), heard) === 'signals'
      ? compiled.signals.map((signal) => ({ line, signal }))
      : [];
  });
}

/** Iterates over a mapping and its voices. */
export function* withVoices(root: CompiledMapping): Iterable<CompiledMapping> {
  yield root;
  if (root.voices) yield* root.voices.values();
}
