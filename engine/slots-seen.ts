/** What people see of the slots of a universe beside the levels that were sent: the levels that were heard, and who set each slot. */
import type { SlotsSeen } from '@tawny-signal/core/live/messages';
import { base64Of } from '@tawny-signal/core/base64';

const SLOTS = 512;

export interface SlotsWatch {
  heard(line: number, slot: number, level: number): void;
  /** @param sender the number of the mapping, route or moment; undefined for none */
  sent(line: number, slot: number, sender: number | undefined): void;
  /** Returns what has changed since the last call, by id of the line; null for nothing. @param idOf returns undefined for a line that is gone */
  drain(idOf: (line: number) => string | undefined): Record<string, SlotsSeen> | null;
  /** Lets everything count as changed, for a server that knows nothing yet. */
  tellAll(): void;
}

interface Universe {
  heard: Uint8Array | null;
  /** The number of the sender and one, little-endian; 0 for nobody. */
  setBy: DataView | null;
}

export function createSlotsWatch(): SlotsWatch {
  const universes = new Map<number, Universe>();
  const changed = new Set<number>();

  function universeOf(line: number): Universe {
    const known = universes.get(line);
    if (known) return known;
    const made: Universe = { heard: null, setBy: null };
    universes.set(line, made);
    return made;
  }
  const encoded = ({ heard, setBy }: Universe): SlotsSeen => ({
    ...(heard && { heard: base64Of(heard) }),
    ...(setBy && { setBy: base64Of(new Uint8Array(setBy.buffer)) }),
  });

  return {
    heard(line, slot, level) {
      const universe = universeOf(line);
      universe.heard ??= new Uint8Array(SLOTS);
      universe.heard[slot - 1] = level;
      changed.add(line);
    },
    sent(line, slot, sender) {
      const universe = universeOf(line);
      universe.setBy ??= new DataView(new ArrayBuffer(SLOTS * 4));
      const by = sender === undefined ? 0 : sender + 1;
      if (universe.setBy.getUint32((slot - 1) * 4, true) === by) return;
      universe.setBy.setUint32((slot - 1) * 4, by, true);
      changed.add(line);
    },
    drain(idOf) {
      if (changed.size === 0) return null;
      const seen: Record<string, SlotsSeen> = {};
      for (const line of changed) {
        const id = idOf(line);
        if (id === undefined) universes.delete(line);
        else seen[id] = encoded(universes.get(line)!);
      }
      changed.clear();
      return seen;
    },
    tellAll() {
      for (const line of universes.keys()) changed.add(line);
    },
  };
}
