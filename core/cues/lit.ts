/** The slots that moments have sent a level to. */
import type { Levels } from '../fades/levels.js';

export interface Lit {
  note(line: number, slot: number): void;
  /** The lines on which something was lit. */
  lines(): number[];
  /** The lit slots of a line that are not off, each with level 0 to fade to. */
  toDark(line: number): [slot: number, level: number][];
}

/** The number of slots of a universe. */
const SLOTS = 512;

export function createLit(levels: Levels): Lit {
  const lit: (Uint8Array | undefined)[] = [];
  return {
    note(line, slot) {
      if (line >= 0) (lit[line] ??= new Uint8Array(SLOTS + 1))[slot] = 1;
    },
    lines: () => lit.flatMap((slots, line) => (slots ? [line] : [])),
    toDark(line) {
      const found: [number, number][] = [];
      lit[line]?.forEach((isLit, slot) => {
        if (isLit && (levels.levelOf(line, slot) > 0 || levels.isFading(line, slot))) found.push([slot, 0]);
      });
      return found;
    },
  };
}
