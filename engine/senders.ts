/** Numbers everything that sends. Records of the traffic refer to senders by number. */
export interface Senders {
  /** Numbers new senders. Numbers are never reused. @returns whether there were any */
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
