/** What a moment does, made ready: each thing with its delay, and how long it all takes. */
import { byHand } from '../mapping/heard.js';
import { targetOf } from '../mapping/overlap.js';
import { compileSend, type CompiledSend } from '../mapping/sends.js';
import { BENDS } from '../mapping/shape.js';
import type { Moment, MomentSend } from '../show/moment.js';
import type { Send } from '../show/send.js';

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
  /** Slot and level, each slot once: of overlapping ranges the last. */
  levels: readonly (readonly [slot: number, level: number])[];
}

export type Planned = PlannedSend | PlannedLevels;

export interface Plan {
  moment: Moment;
  sends: readonly Planned[];
  /** From its call until the last of it is done; a note that sounds until it is stopped is not counted. */
  lengthMs: number;
}

/** Kinds whose values can be on their way. A bend and a program are no places in core/mapping/overlap. */
const canRamp = (send: Send): boolean => ['osc', 'control', 'control14'].includes(send.kind);

const slotsOf = (ranges: Extract<MomentSend, { kind: 'levels' }>['levels']): Map<number, number> => {
  const levels = new Map<number, number>();
  for (const { slots, level } of ranges)
    for (let slot = slots[0]; slot <= slots[1]; slot++) levels.set(slot, level);
  return levels;
};

function planSend(given: MomentSend): Planned {
  const curve = BENDS[given.curve];
  if (given.kind === 'levels') {
    const { lineId, delayMs, fadeMs } = given;
    return { kind: 'levels', lineId, delayMs, fadeMs, curve, levels: [...slotsOf(given.levels)] };
  }
  const { send, value, fadeMs } = given;
  const compiled = compileSend(send);
  const target = canRamp(send) ? targetOf(send) : null;
  return {
    kind: 'send',
    lineId: send.lineId,
    delayMs: send.delayMs,
    compiled,
    value,
    target,
    fadeMs: target === null && send.kind !== 'slot' ? 0 : fadeMs,
    curve,
    lengthMs: send.kind === 'note' ? send.lengthMs : null,
    taps: send.kind === 'key',
  };
}

function lengthOf(planned: Planned): number {
  if (planned.kind === 'levels') return planned.delayMs + planned.fadeMs;
  const typed = planned.compiled.later.at(-1)?.afterMs ?? 0;
  return planned.delayMs + Math.max(planned.fadeMs, planned.lengthMs ?? 0, typed);
}

export function planMoment(moment: Moment): Plan {
  const sends = moment.sends.map(planSend);
  return { moment, sends, lengthMs: Math.max(0, ...sends.map(lengthOf)) };
}

/** Sent by a moment, nothing was heard. */
export const UNHEARD = byHand(0, 0);
