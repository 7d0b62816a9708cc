/** Combines the troubles of the parts of a line. The line is open if none of its parts has any. */
import type { LineState } from '@tawny-signal/core/live/messages';
import { OPEN, trouble, type LineListener } from './driver.js';

/** Reports what is wrong with a part; null if nothing is. @param tryInMs time until the next try */
export type SayTrouble<Part extends string> = (part: Part, words: string | null, tryInMs?: number) => void;

/** @param first the state of the line until a part reports something. Each change is reported once */
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
