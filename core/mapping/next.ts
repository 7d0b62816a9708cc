/** Copies a mapping to the next control and the next target: controller 71 to note 112 from controller 70 to note 111. */
import { beginning, NAME_LENGTH } from '../show/text.js';
import type { Hear } from '../hears.js';
import { movedOn, SENDS, type Send } from '../sends.js';
import type { Mapping } from '../show/mapping.js';

/** The numbers that a mapping hears, and the last that there is; null if it hears none in particular. */
function spanOf(hear: Hear): { span: [number, number]; last: number } | null {
  if ('numbers' in hear && hear.numbers !== 'any') return { span: hear.numbers, last: 127 };
  if ('slots' in hear && hear.slots !== 'any') return { span: hear.slots, last: 512 };
  return null;
}

/** Moves a send on. @returns null beyond the last target */
function nextSend(send: Send, step: number): Send | null {
  const { next } = SENDS[send.kind];
  if (next) return next(send, step);
  const moved = movedOn(send, step);
  return moved && 'follows' in send ? ({ ...moved, follows: send.follows } as Send) : moved;
}

/** `Fader 8` after `Fader 7`; a name without a number at its end stays empty, so that the mapping is named after what it hears. */
function nextName(name: string): string {
  const match = /^(.*?)(\d{1,6})$/.exec(name);
  return match ? beginning(`${match[1]!}${Number(match[2]) + 1}`, NAME_LENGTH) : '';
}

/** @returns the copy without an id; null if the mapping hears no number, or nothing comes after what it hears or sends */
export function nextMapping(mapping: Mapping): Omit<Mapping, 'id'> | null {
  const heard = spanOf(mapping.hear);
  if (!heard) return null;
  const [from, to] = heard.span;
  const width = to - from + 1;
  const moved: [number, number] = [from + width, to + width];
  const sends = mapping.sends.map((send) => nextSend(send, width));
  if (moved[1] > heard.last || sends.includes(null)) return null;
  const hear = { ...mapping.hear, ['slots' in mapping.hear ? 'slots' : 'numbers']: moved } as Hear;
  const { answer } = mapping;
  const { id, ...rest } = mapping;
  void id;
  return {
    ...rest,
    name: nextName(mapping.name),
    hear,
    sends: sends as Send[],
    answer: answer && { ...answer, number: Math.min(127, answer.number + width) },
  };
}
