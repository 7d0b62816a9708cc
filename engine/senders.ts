/** Numbers everything that sends. Records of the traffic refer to senders by number. */
import type { Show } from '@tawny-signal/core/show';

export interface Senders {
  /** Numbers new senders. Numbers are never reused. @returns the numbers of those that are new; null for none */
  number(rows: Iterable<{ id: string }>): Record<string, number> | null;
  indexOf(id: string): number | undefined;
  all(): Record<string, number>;
}

/** Everything of a show that sends, table by table. */
export const sendersOf = ({
  mappings,
  routes,
  moments,
  timeOutputs,
  motions,
}: Show): readonly { id: string }[][] => [mappings, routes, moments, timeOutputs, motions];

const AT_ONCE = 200;

/** The same, a little at a time. */
export function* fewSendersOf(show: Show): Generator<{ id: string }[]> {
  for (const rows of sendersOf(show))
    for (let at = 0; at < rows.length; at += AT_ONCE) yield rows.slice(at, at + AT_ONCE);
}

export function createSenders(): Senders {
  const indexes = new Map<string, number>();
  return {
    number(rows) {
      let added: Record<string, number> | null = null;
      for (const { id } of rows) {
        if (indexes.has(id)) continue;
        (added ??= {})[id] = indexes.size;
        indexes.set(id, indexes.size);
      }
      return added;
    },
    indexOf: (id) => indexes.get(id),
    all: () => Object.fromEntries(indexes),
  };
}
