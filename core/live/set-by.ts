/** Who set the slots of a universe, gathered into runs of neighbours. */

export interface SetBy {
  /** The id of a mapping, a route or a moment. */
  senderId: string;
  /** First and last slots, counted from 1. */
  slots: [number, number][];
}

/** Gathers the slots by what set them, in the order of their first slots. Slots that nobody set are left out. */
export function gatherSetBy(setBy: readonly (string | null)[]): SetBy[] {
  const all = new Map<string, SetBy>();
  setBy.forEach((senderId, at) => {
    if (senderId === null) return;
    const one = all.get(senderId) ?? { senderId, slots: [] };
    all.set(senderId, one);
    const last = one.slots.at(-1);
    if (last && last[1] === at) last[1] = at + 1;
    else one.slots.push([at + 1, at + 1]);
  });
  return [...all.values()];
}
