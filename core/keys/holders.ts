/**
 * Who holds each key down. Two combinations may share a modifier, and two pads a key: it comes up when the last of them lets go. A key that repeats, or is
 * pressed again by who holds it, is held once.
 */
import type { Signal } from '../signal.js';

export interface KeyHolders {
  /**
   * Notes a signal that is about to be sent. @param withheld true if it does not leave now: a key that is pressed then is not held
   * @returns false if it must not be sent, since somebody else still holds that key
   */
  passes(line: number, signal: Signal, holder: object, withheld: boolean): boolean;
  /** Forgets all holders. @returns the keys that were down */
  clear(): { line: number; code: string }[];
}

export function createKeyHolders(): KeyHolders {
  /** By line, then by key. */
  const lines = new Map<number, Map<string, Set<object>>>();

  function holdersOf(line: number, code: string): Set<object> {
    let keys = lines.get(line);
    if (!keys) lines.set(line, (keys = new Map()));
    let holders = keys.get(code);
    if (!holders) keys.set(code, (holders = new Set()));
    return holders;
  }

  return {
    passes(line, signal, holder, withheld) {
      if (signal.kind !== 'key' || (signal.down && withheld)) return true;
      const holders = holdersOf(line, signal.code);
      if (signal.down) {
        holders.add(holder);
        return true;
      }
      const held = holders.delete(holder);
      return !held || holders.size === 0;
    },
    clear() {
      const down = [...lines].flatMap(([line, keys]) =>
        [...keys].flatMap(([code, holders]) => (holders.size > 0 ? [{ line, code }] : [])),
      );
      lines.clear();
      return down;
    },
  };
}
