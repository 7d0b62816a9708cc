/** Motions that move each other in a ring would have no end, and are refused. */
import type { Motion } from '../show/motion.js';

/** The motions that a motion moves, or that take its value. */
function movedBy(motions: readonly Motion[], { id, sends }: Motion): string[] {
  const moved = sends.flatMap((send) =>
    send.kind === 'motion' && send.motionId !== null ? [send.motionId] : [],
  );
  const takers = motions.filter(
    ({ makes }) => makes.kind === 'hold' && makes.of.what === 'motion' && makes.of.motionId === id,
  );
  return [...moved, ...takers.map((motion) => motion.id)];
}

/** The ring that goes through a motion: the motions in their order, beginning with it; null if there is none. */
export function motionRing(motions: readonly Motion[], motion: Motion): Motion[] | null {
  const byId = new Map(motions.map((one) => [one.id, one]));
  const seen = new Set<string>();
  function walk(path: Motion[]): Motion[] | null {
    for (const id of movedBy(motions, path.at(-1)!)) {
      if (id === motion.id) return path;
      const next = byId.get(id);
      if (!next || seen.has(id)) continue;
      seen.add(id);
      const found = walk([...path, next]);
      if (found) return found;
    }
    return null;
  }
  return walk([motion]);
}

/** `Tide moves Sky, which moves Tide` */
export function ringWords(ring: readonly Motion[]): string {
  const [first] = ring;
  if (ring.length === 1) return `${first!.name} would move itself.`;
  const others = ring.slice(1).map(({ name }) => name);
  return `${first!.name} moves ${others.join(', which moves ')}, which moves ${first!.name} again: a ring without an end.`;
}
