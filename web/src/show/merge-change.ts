/** Brings a change that was made from an older state of a row onto its newer state, so that two fields that are typed quickly one after the other keep both. */

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/**
 * @param seen the value that the change was made from
 * @param wanted what it was changed to
 * @param now what it is by now
 * @returns `now` with what differs between `seen` and `wanted`. A list whose length differs in any of the three is replaced whole.
 */
export function mergeChange(seen: unknown, wanted: unknown, now: unknown): unknown {
  if (isSame(seen, now)) return wanted;
  if (isSame(seen, wanted)) return now;
  if (isObject(seen) && isObject(wanted) && isObject(now)) {
    const names = new Set([...Object.keys(now), ...Object.keys(wanted)]);
    const merged = [...names].map(
      (name) => [name, mergeChange(seen[name], wanted[name], now[name])] as const,
    );
    return Object.fromEntries(merged.filter(([, value]) => value !== undefined));
  }
  if (Array.isArray(seen) && Array.isArray(wanted) && Array.isArray(now)) {
    if (seen.length === wanted.length && seen.length === now.length)
      return wanted.map((one, at) => mergeChange(seen[at], one, now[at]));
  }
  return wanted;
}

/** Changes of rows, one after the other for each row. */
export interface RowChanges {
  /**
   * @param seen the row that the change was made from
   * @param send sends the change, and returns the row after it
   */
  change<Row extends { id: string }>(
    seen: Row | undefined,
    change: Partial<Row>,
    send: (change: Partial<Row>) => Promise<Row>,
  ): Promise<Row>;
}

export function createRowChanges(): RowChanges {
  /** The last change of each row that is on its way. It gives the row after it; null if it was refused. */
  const waiting = new Map<string, Promise<unknown>>();
  return {
    change(seen, change, send) {
      if (!seen) return send(change);
      const { id } = seen;
      const before = waiting.get(id);
      const members = Object.entries(change) as [keyof typeof seen, unknown][];
      const merged = (now: typeof seen): typeof change =>
        Object.fromEntries(
          members.map(([name, to]) => [name, mergeChange(seen[name], to, now[name])]),
        ) as never;
      const done = before
        ? before.then((now) => send(now === null ? change : merged(now as typeof seen)))
        : send(change);
      const settled = done
        .catch(() => null)
        .finally(() => {
          if (waiting.get(id) === settled) waiting.delete(id);
        });
      waiting.set(id, settled);
      return done;
    },
  };
}
