/** A compiled moment: what it sends and when, and how long it takes. */
import { byHand } from '../mapping/heard.js';
import { compileSend, SENDS, targetOf } from '../sends.js';
import type { CompiledSend } from '../sends/compiled.js';
import { BENDS } from '../mapping/shape.js';
import type { FileEvent } from '../midi/file.js';
import type { Moment } from '../show/moment.js';
import { inMs, lengthAt, type Span } from '../time/span.js';
import { delayOf, EMPTY_STOCK, expandMoment, type Expanded, type SlotLevels, type Stock } from './expand.js';

interface PlannedSend {
  kind: 'send';
  lineId: string | null;
  delay: Span;
  compiled: CompiledSend;
  value: number;
  /** The place that it moves, if it can be ramped; null if it is set at once. */
  target: string | null;
  fade: Span;
  curve: (part: number) => number;
  /** Length of a note or of the tap of a key; null if it sounds until it is stopped. */
  length: Span | null;
}

interface PlannedLevels {
  kind: 'levels';
  lineId: string | null;
  delay: Span;
  fade: Span;
  curve: (part: number) => number;
  levels: SlotLevels;
}

interface PlannedFile {
  kind: 'file';
  lineId: string | null;
  delay: Span;
  events: readonly FileEvent[];
  lengthMs: number;
  times: number;
}

export type Planned = PlannedSend | PlannedLevels | PlannedFile;

export interface Plan {
  moment: Moment;
  /** What it does, with all names resolved. */
  expanded: readonly Expanded[];
  sends: readonly Planned[];
  /** Time in ms from its call until the last thing is done, at a tempo. What goes on until it is stopped is not counted. */
  lengthMs(bpm: number): number;
  /** Whether any of its times follow the tempo. */
  inBeats: boolean;
}

function planSend(given: Expanded): Planned {
  const delay = delayOf(given);
  if (given.kind === 'file') return { ...given, delay };
  const curve = BENDS[given.curve];
  const fade: Span = { ms: given.fadeMs, beats: given.fadeBeats };
  if (given.kind === 'levels') {
    const { kind, lineId, levels } = given;
    return { kind, lineId, delay, fade, curve, levels };
  }
  const { send, value } = given;
  const compiled = compileSend(send);
  const target = SENDS[send.kind].ramps ? targetOf(send) : null;
  return {
    kind: 'send',
    lineId: send.lineId,
    delay,
    compiled,
    value,
    target,
    fade: target === null && !('fadeMs' in send) ? inMs(0) : fade,
    curve,
    length: SENDS[send.kind].length?.(send) ?? ('tapMs' in send ? inMs(send.tapMs) : null),
  };
}

/** What comes after the delay: its fade, its sound, or what it types. */
export function spansAfter(planned: Planned): Span[] {
  if (planned.kind === 'levels') return [planned.fade];
  if (planned.kind === 'file') return [inMs(planned.times * planned.lengthMs)];
  const typed = inMs(planned.compiled.later.at(-1)?.afterMs ?? 0);
  return [planned.fade, typed, ...(planned.length ? [planned.length] : [])];
}

const lengthOf = (planned: Planned, bpm: number): number =>
  lengthAt(planned.delay, bpm) + Math.max(...spansAfter(planned).map((span) => lengthAt(span, bpm)));

const hasBeats = (planned: Planned): boolean =>
  [planned.delay, ...spansAfter(planned)].some(({ beats }) => beats !== null);

/** Any tempo: without times in beats the length is the same at each. */
const STEADY_BPM = 120;

/** Compiles sends that belong to no row, such as a try. */
export function planOf(moment: Moment, expanded: readonly Expanded[]): Plan {
  const sends = expanded.map(planSend);
  const inBeats = sends.some(hasBeats);
  const fixedMs = Math.max(0, ...sends.map((planned) => lengthOf(planned, STEADY_BPM)));
  const lengthMs = (bpm: number): number =>
    inBeats ? Math.max(0, ...sends.map((planned) => lengthOf(planned, bpm))) : fixedMs;
  return { moment, expanded, sends, lengthMs, inBeats };
}

export const planMoment = (moment: Moment, stock: Stock = EMPTY_STOCK): Plan =>
  planOf(moment, expandMoment(moment, stock));

/** Returns whether it goes on until it is stopped. */
export const goesOn = (planned: Planned): boolean =>
  planned.kind === 'file'
    ? planned.times === 0
    : planned.kind === 'send' && planned.compiled.releases.length > 0 && planned.length === null;

/** The input of a send that no signal caused. */
export const UNHEARD = byHand(0, 0);
