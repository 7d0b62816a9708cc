/** The pages that are connected, as the server tells it change by change. */
import type { FromServer } from '@tawny-signal/core/live/messages';
import { hereName, type HereSeen } from '@tawny-signal/core/people/here';

export interface HereNow {
  /** Those that this page shows, by name; at most a hundred. */
  all: readonly HereSeen[];
  /** How many are connected everywhere. */
  count: number;
  /** The number of this page's connection; null before it is known. */
  me: number | null;
}

export const NOBODY: HereNow = { all: [], count: 0, me: null };

export function hereAfter(
  before: HereNow,
  { changed, gone, count, anew }: Extract<FromServer, { t: 'here' }>,
): HereNow {
  const left = new Set([...gone, ...changed.map(({ id }) => id)]);
  const stay = anew ? [] : before.all.filter(({ id }) => !left.has(id));
  const all = [...stay, ...changed].sort(
    (one, other) => hereName(one).localeCompare(hereName(other)) || one.id - other.id,
  );
  return { ...before, all, count };
}
