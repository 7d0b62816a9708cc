/** Numbers for those that send, mappings and routes, by which a batch names them. */
export interface Senders {
  /** Gives every one its number; a number is never given twice. @returns whether there were new ones */
  number(rows: readonly { id: string }[]): boolean;
  slotOf(id: string): number | undefined;
  all(): Record<string, number>;
}

export function createSenders(): Senders {
  const slots = new Map<string, number>();
  return {
    number(rows) {
      const before = slots.size;
      for (const { id } of rows) if (!slots.has(id)) slots.set(id, slots.size);
      return slots.size > before;
    },
    slotOf: (id) => slots.get(id),
    all: () => Object.fromEntries(slots),
  };
}
