/** One send of a voice, with what it has sent. */
import { activate, type ActiveSend } from '../mapping/compiled.js';
import { sendOf, type CompiledMotion } from './compiled.js';

export interface VoiceSend {
  active: ActiveSend;
  /** What was sent last. */
  last: unknown[];
  /** For notes: the one that sounds, and the press that made it. */
  note: ActiveSend | null;
  strike: number;
  /** Makes the send for another note ready; null for what is no note of a scale. */
  noteAt: ((note: number) => ActiveSend) | null;
  /** All that were made ready. */
  all: ActiveSend[];
}

/** @param step the distance of the heard number from the lowest one. @param velocity for the notes of a scale, 1–127 */
export function createVoiceSend(
  motion: CompiledMotion,
  at: number,
  step: number,
  velocity: () => number,
): VoiceSend {
  const { source, outs } = motion;
  const { shape } = source;
  const send = sendOf(source, source.sends[at]!);
  const make = (one: typeof send): ActiveSend =>
    activate(one, outs[at]!, [0, 1], { step, colour: shape.colour }, true);
  const notes = new Map<number, ActiveSend>();
  const noteAt = (number: number): ActiveSend => {
    const known = notes.get(number);
    if (known) return known;
    const made = { ...make({ ...send, number, follows: false } as typeof send), own: velocity };
    notes.set(number, made);
    all.push(made);
    return made;
  };
  const isNote = send.kind === 'note';
  const active = make(send);
  const all = [active];
  return {
    active,
    all,
    last: [],
    note: null,
    strike: NaN,
    noteAt: isNote && shape.scale ? noteAt : null,
  };
}
