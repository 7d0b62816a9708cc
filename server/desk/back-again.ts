/** Whether an engine that was started again has its lines back: what it is told to send before that is lost. */
import type { LineState } from '@tawny-signal/core/live/line-state';

/** How long lines that were open are waited for. One that does not come back holds up nothing else. */
const LONGEST_MS = 500;

export interface BackAgain {
  /** The engine has gone. @param states of its lines then */
  left(states: Readonly<Record<string, LineState>>): void;
  /** Another one is there. */
  joined(): void;
  /** @param states of the lines now */
  isBack(states: Readonly<Record<string, LineState>>): boolean;
}

/** @param clock ms, of a clock that only goes forward */
export function createBackAgain(clock = (): number => performance.now()): BackAgain {
  let awaited: string[] = [];
  let joinedAt = -Infinity;
  return {
    left(states) {
      const open = Object.keys(states).filter((id) => states[id]?.state === 'open');
      // Of an engine that dies before its lines are open, those of the one before it are waited for.
      awaited = [...new Set([...awaited, ...open])];
    },
    joined() {
      joinedAt = clock();
    },
    isBack(states) {
      if (awaited.length === 0) return true;
      // A line that is gone from the show is not waited for.
      awaited = awaited.filter((id) => states[id] !== undefined && states[id].state !== 'open');
      if (clock() - joinedAt > LONGEST_MS) awaited = [];
      return awaited.length === 0;
    },
  };
}
