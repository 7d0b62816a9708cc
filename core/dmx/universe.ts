/**
 * One universe as it is heard, though several senders may speak on it: the highest priority is heard, and among those
 * who share it each slot takes its highest level. A source that says nothing for 2.5 seconds is lost
 * (ANSI E1.31, 6.2.3 and 6.6, from memory; highest level wins is common practice).
 */

export const SOURCE_LOST_MS = 2500;
export const SLOTS = 512;
/** Sources of one universe at once; no sender can fill the memory with made-up ones. */
export const MOST_SOURCES = 32;

export interface Source {
  /** Identifies the sender: a CID, or an address. */
  key: string;
  name: string;
  /** Where it sends from. */
  address: string;
  priority: number;
  levels: Uint8Array;
  /** Monotonic ms of the last packet. */
  heardAt: number;
}

export interface Universe {
  /** Processes the levels of a packet. Calls `changed` for each slot, 1–512, whose level has changed. */
  hear(source: Omit<Source, 'heardAt'>, now: number, changed: SlotChanged): void;
  /** A source has stopped sending. */
  end(key: string, changed: SlotChanged): void;
  /** Removes the sources that are lost by now. */
  tick(now: number, changed: SlotChanged): void;
  /** The current sources, the highest priority first. */
  sources(): Source[];
  /** The resulting levels. Do not change them. */
  readonly levels: Uint8Array;
}

export type SlotChanged = (slot: number, level: number) => void;

export function createUniverse(): Universe {
  const sources = new Map<string, Source>();
  const levels = new Uint8Array(SLOTS);
  const next = new Uint8Array(SLOTS);

  function merge(changed: SlotChanged): void {
    let highest = -1;
    for (const { priority } of sources.values()) highest = Math.max(highest, priority);
    // Without any source the last levels stay, so that lamps do not go dark because a cable was pulled.
    if (highest < 0) return;
    next.fill(0);
    for (const source of sources.values()) {
      if (source.priority !== highest) continue;
      for (let i = 0; i < source.levels.length; i++)
        if (source.levels[i]! > next[i]!) next[i] = source.levels[i]!;
    }
    for (let i = 0; i < SLOTS; i++) {
      if (levels[i] === next[i]) continue;
      levels[i] = next[i]!;
      changed(i + 1, next[i]!);
    }
  }

  return {
    levels,
    hear(given, now, changed) {
      const known = sources.get(given.key);
      if (!known && sources.size >= MOST_SOURCES) return;
      const kept =
        known?.levels.length === given.levels.length ? known.levels : new Uint8Array(given.levels.length);
      kept.set(given.levels);
      sources.set(given.key, { ...given, levels: kept, heardAt: now });
      merge(changed);
    },
    end(key, changed) {
      if (sources.delete(key)) merge(changed);
    },
    tick(now, changed) {
      let lost = false;
      for (const [key, { heardAt }] of sources)
        if (now - heardAt > SOURCE_LOST_MS) lost = sources.delete(key) || lost;
      if (lost) merge(changed);
    },
    sources: () => [...sources.values()].sort((a, b) => b.priority - a.priority || (a.key < b.key ? -1 : 1)),
  };
}
