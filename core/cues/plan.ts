/** What a moment does, made ready: each thing with its delay, and how long it all takes. */
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
  /** The place it goes to, where a value can be on its way to it; null where it is there at once. */
  target: string | null;
  fadeMs: number;
  curve: (part: number) => number;
  /** Of a note: how long it sounds; null: until it is stopped. */
  lengthMs: number | null;
  /** What is pressed is let go at once. */
  taps: boolean;
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
  /** What it does, with nothing left to look up. */
  expanded: readonly Expanded[];
  sends: readonly Planned[];
  /** From its call until the last of it is done; what goes on until it is stopped is not counted. */
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
    lengthMs: 'lengthMs' in send ? send.lengthMs : null,
    taps: 'tap' in send,
  };
}

function lengthOf(planned: Planned): number {
  const delayMs = planned.delayMs;
  if (planned.kind === 'levels') return delayMs + planned.fadeMs;
  if (planned.kind === 'file') return delayMs + planned.times * planned.lengthMs;
  const typed = planned.compiled.later.at(-1)?.afterMs ?? 0;
  return delayMs + Math.max(planned.fadeMs, planned.lengthMs ?? 0, typed);
}

/** Things that belong together though no row says so, as a try or what is caught up. */
export function planOf(moment: Moment, expanded: readonly Expanded[]): Plan {
  const sends = expanded.map(planSend);
  return { moment, expanded, sends, lengthMs: Math.max(0, ...sends.map(lengthOf)) };
}

export const planMoment = (moment: Moment, stock: Stock = EMPTY_STOCK): Plan =>
  planOf(moment, expandMoment(moment, stock));

/** Whether it goes on until it is stopped. */
export const goesOn = (planned: Planned): boolean =>
  planned.kind === 'file'
    ? planned.times === 0
    : planned.kind === 'send' &&
      planned.compiled.releases.length > 0 &&
      planned.lengthMs === null &&
      !planned.taps;

/** Sent by a moment, nothing was heard. */
export const UNHEARD = byHand(0, 0);
