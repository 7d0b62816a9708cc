/** The troubles of a line with several parts: it is open when none of them has any. */
import type { LineState } from '@tawny-signal/core/live/messages';
import { OPEN, trouble, type LineListener } from './driver.js';

/** Says what is wrong with a part, or with null that nothing is any more. @param tryInMs when it is tried again */
export type SayTrouble<Part extends string> = (part: Part, words: string | null, tryInMs?: number) => void;

/** @param first how the line is until a part says something. Each change is told once. */
export function createTroubles<Part extends string>(
  listener: Pick<LineListener, 'state'>,
  first: LineState,
): SayTrouble<Part> {
  const troubles = new Map<Part, LineState>();
  let told = first;
  listener.state(first);
  return (part, words, tryInMs) => {
    if (words === null) troubles.delete(part);
    else troubles.set(part, trouble(words, tryInMs));
    const next = troubles.size === 0 ? OPEN : together([...troubles.values()]);
    if (next.state === told.state && next.trouble === told.trouble && next.nextTryAt === told.nextTryAt)
      return;
    told = next;
    listener.state(next);
  };
}

function together(states: LineState[]): LineState {
  const words = states.map((state) => state.trouble).join(' ');
  const tries = states.flatMap((state) => state.nextTryAt ?? []);
  return tries.length === 0 ? trouble(words) : { ...trouble(words), nextTryAt: Math.min(...tries) };
}
