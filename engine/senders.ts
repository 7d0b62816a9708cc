/** Numbers everything that sends. Records of the traffic refer to senders by number. */
export interface Senders {
  /** Numbers new senders. Numbers are never reused. @returns whether there were any */
  number(rows: readonly { id: string }[]): boolean;
  indexOf(id: string): number | undefined;
  all(): Record<string, number>;
}

export function createSenders(): Senders {
  const indexes = new Map<string, number>();
  return {
    number(rows) {
      const before = indexes.size;
      for (const { id } of rows) if (!indexes.has(id)) indexes.set(id, indexes.size);
      return indexes.size > before;
    },
    indexOf: (id) => indexes.get(id),
    all: () => Object.fromEntries(indexes),
  };
}
