/** The troubles of a line with several parts: it is open when none of them has any. */
import type { LineState } from '@tawny-signal/core/live/messages';
import { OPEN, trouble, type LineListener } from './driver.js';

/** Says what is wrong with a part, or with null that nothing is any more. */
export type SayTrouble<Part extends string> = (part: Part, words: string | null) => void;

/** @param first how the line is until a part says something. Each change is told once. */
export function createTroubles<Part extends string>(
  listener: Pick<LineListener, 'state'>,
  first: LineState,
): SayTrouble<Part> {
  const troubles = new Map<Part, string>();
  let told = first;
  listener.state(first);
  return (part, words) => {
    if (words === null) troubles.delete(part);
    else troubles.set(part, words);
    const next = troubles.size === 0 ? OPEN : trouble([...troubles.values()].join(' '));
    if (next.state === told.state && next.trouble === told.trouble) return;
    told = next;
    listener.state(next);
  };
}
