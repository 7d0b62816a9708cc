/** Combines the troubles of the parts of a line. The line is open if none of its parts has any. */
import { isDeepStrictEqual } from 'node:util';
import type { LineState, Side } from '@tawny-signal/core/live/line-state';
import { OPEN, trouble, waiting, type LineListener } from './driver.js';

type Direction = 'in' | 'out';

/** Reports what is wrong with a part; null if nothing is. @param tryInMs time until the next try */
export type SayTrouble<Part extends string> = (part: Part, words: string | null, tryInMs?: number) => void;

export interface Troubles<Part extends string> {
  say: SayTrouble<Part>;
  /** Reports that a part waits for somebody, which is no fault. */
  wait(part: Part, words: string): void;
  /** Something came from the target, so that it is known to be there. */
  proven(): void;
}

/**
 * @param first the state of the line until a part reports something. @param sides how each direction is while it has no trouble
 * @param concerns the directions that do not work while a part other than `in` and `out` has trouble
 */
export function createTroubles<Part extends string = never>(
  listener: Pick<LineListener, 'state'>,
  first: LineState,
  sides: { in: Side; out: Side },
  concerns: Readonly<Record<Part, readonly Direction[]>> = {} as Record<Part, readonly Direction[]>,
): Troubles<Part | Direction> {
  const troubles = new Map<Part | Direction, LineState>();
  let told: LineState | null = null;
  let begun = false;
  tell();

  const concerned = (part: Part | Direction, side: Direction): boolean =>
    part === side || (part !== 'in' && part !== 'out' && concerns[part].includes(side));

  function sideOf(side: Direction): Side {
    if (sides[side] === 'none') return 'none';
    const states = [...troubles].flatMap(([part, { state }]) => (concerned(part, side) ? [state] : []));
    if (states.length > 0) return states.includes('trouble') ? 'trouble' : 'waiting';
    return !begun && first.state === 'waiting' ? 'waiting' : sides[side];
  }
  /** Reports each change once. */
  function tell(): void {
    const all = troubles.size > 0 ? together([...troubles.values()]) : begun ? OPEN : first;
    const next: LineState = { ...all, sides: { in: sideOf('in'), out: sideOf('out') } };
    if (isDeepStrictEqual(next, told)) return;
    told = next;
    listener.state(next);
  }
  function set(part: Part | Direction, state: LineState | null): void {
    begun = true;
    if (state === null) troubles.delete(part);
    else troubles.set(part, state);
    tell();
  }
  return {
    say: (part, words, tryInMs) => set(part, words === null ? null : trouble(words, tryInMs)),
    wait: (part, words) => set(part, waiting(words)),
    proven() {
      if (sides.out !== 'unproven') return;
      sides = { ...sides, out: 'open' };
      tell();
    },
  };
}

function together(states: LineState[]): LineState {
  const words = states.map((state) => state.trouble).join(' ');
  const whole = states.every(({ state }) => state === 'waiting') ? waiting(words) : trouble(words);
  const tries = states.flatMap((state) => state.nextTryAt ?? []);
  return tries.length === 0 ? whole : { ...whole, nextTryAt: Math.min(...tries) };
}
