/** A compiled moment: what it sends and when, and how long it takes. */
import { byHand } from '../mapping/heard.js';
import { compileSend, SENDS, targetOf } from '../sends.js';
import type { CompiledSend } from '../sends/compiled.js';
import { BENDS } from '../mapping/shape.js';
import type { FileEvent } from '../midi/file.js';
import type { Moment } from '../show/moment.js';
import { EMPTY_STOCK, expandMoment, type Expanded, type SlotLevels, type Stock } from './expand.js';

interface PlannedSend {
  kind: 'send';
  lineId: string | null;
  delayMs: number;
  compiled: CompiledSend;
  value: number;
  /** The place that it moves, if it can be ramped; null if it is set at once. */
  target: string | null;
  fadeMs: number;
  curve: (part: number) => number;
  /** Length of a note or of the tap of a key, in ms; null if it sounds until it is stopped. */
  lengthMs: number | null;
}

interface PlannedLevels {
  kind: 'levels';
  lineId: string | null;
  delayMs: number;
  fadeMs: number;
  curve: (part: number) => number;
  levels: SlotLevels;
}

interface PlannedFile {
  kind: 'file';
  lineId: string | null;
  delayMs: number;
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
  /** Time in ms from its call until the last thing is done. What goes on until it is stopped is not counted. */
  lengthMs: number;
}

function planSend(given: Expanded): Planned {
  if (given.kind === 'file') return given;
  const curve = BENDS[given.curve];
  if (given.kind === 'levels') return { ...given, curve };
  const { send, value, fadeMs } = given;
  const compiled = compileSend(send);
  const target = SENDS[send.kind].ramps ? targetOf(send) : null;
  return {
    kind: 'send',
    lineId: send.lineId,
    delayMs: send.delayMs,
    compiled,
    value,
    target,
    fadeMs: target === null && !('fadeMs' in send) ? 0 : fadeMs,
    curve,
    lengthMs: 'lengthMs' in send ? send.lengthMs : 'tapMs' in send ? send.tapMs : null,
  };
}

function lengthOf(planned: Planned): number {
  const delayMs = planned.delayMs;
  if (planned.kind === 'levels') return delayMs + planned.fadeMs;
  if (planned.kind === 'file') return delayMs + planned.times * planned.lengthMs;
  const typed = planned.compiled.later.at(-1)?.afterMs ?? 0;
  return delayMs + Math.max(planned.fadeMs, planned.lengthMs ?? 0, typed);
}

/** Compiles sends that belong to no row, such as a try. */
export function planOf(moment: Moment, expanded: readonly Expanded[]): Plan {
  const sends = expanded.map(planSend);
  return { moment, expanded, sends, lengthMs: Math.max(0, ...sends.map(lengthOf)) };
}

export const planMoment = (moment: Moment, stock: Stock = EMPTY_STOCK): Plan =>
  planOf(moment, expandMoment(moment, stock));

/** Returns whether it goes on until it is stopped. */
export const goesOn = (planned: Planned): boolean =>
  planned.kind === 'file'
    ? planned.times === 0
    : planned.kind === 'send' && planned.compiled.releases.length > 0 && planned.lengthMs === null;

/** The input of a send that no signal caused. */
export const UNHEARD = byHand(0, 0);
