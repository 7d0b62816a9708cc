/** What motions may send on slow lines: on a 5-pin cable, all of them together leave room for what people play. Given the time; reads no clock. */
import { FIVE_PIN_BYTES, type Line } from '../show/line.js';

/** The part of the cable that motions may fill. */
const PART = 0.8;
/** What can be sent at once, in bytes, before the cable has to be waited for. */
const BURST = 48;
/** A message of a channel. */
const MESSAGE_BYTES = 3;
const PER_MS = (FIVE_PIN_BYTES * PART) / 1000;

export interface LineBudgets {
  /** @param indexOf the index of a line by its id */
  load(lines: readonly Line[], indexOf: (id: string) => number): void;
  /** When a line can take so many messages; `now` if it can at once. */
  freeAt(line: number, messages: number, now: number): number;
  /** Messages were sent. */
  spent(line: number, messages: number): void;
}

export function createLineBudgets(): LineBudgets {
  /** The bytes that can be sent at once, at an instant. */
  const slow = new Map<number, { bytes: number; at: number }>();
  return {
    load(lines, indexOf) {
      const wanted = new Set(
        lines.flatMap((line) => ('fivePin' in line && line.fivePin ? [indexOf(line.id)] : [])),
      );
      for (const index of slow.keys()) if (!wanted.has(index)) slow.delete(index);
      for (const index of wanted) if (!slow.has(index)) slow.set(index, { bytes: BURST, at: 0 });
    },
    freeAt(line, messages, now) {
      const budget = slow.get(line);
      if (!budget) return now;
      budget.bytes = Math.min(BURST, budget.bytes + (now - budget.at) * PER_MS);
      budget.at = now;
      const missing = Math.min(BURST, messages * MESSAGE_BYTES) - budget.bytes;
      return missing <= 1e-6 ? now : now + missing / PER_MS;
    },
    spent(line, messages) {
      const budget = slow.get(line);
      if (budget) budget.bytes -= messages * MESSAGE_BYTES;
    },
  };
}
