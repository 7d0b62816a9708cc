/** The pages that are connected, as the server tells it change by change. */
import { hereName, type HereSeen } from '@tawny-signal/core/people/here';

export interface HereNow {
  /** By name. */
  all: readonly HereSeen[];
  /** The number of this page's connection; null before it is known. */
  me: number | null;
}

export const NOBODY: HereNow = { all: [], me: null };

/** @param you the number of this page's connection, where all that are connected are told; else null */
export function hereAfter(
  { all, me }: HereNow,
  changed: readonly HereSeen[],
  gone: readonly number[],
  you: number | null,
): HereNow {
  const left = new Set([...gone, ...changed.map(({ id }) => id)]);
  const stay = you === null ? all.filter(({ id }) => !left.has(id)) : [];
  const next = [...stay, ...changed].sort(
    (one, other) => hereName(one).localeCompare(hereName(other)) || one.id - other.id,
  );
  return { all: next, me: you ?? me };
}
