/** Puts the moments of a table into the running order, in time that grows with the rows and no faster. */
import { compareCues } from '@tawny-signal/core/cues/number';
import { anyRing } from '@tawny-signal/core/cues/rings';
import { positionOf, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import { takeOver, type NewMoment, type ReadMoments } from '@tawny-signal/core/files/moments-csv';
import type { Moment } from '@tawny-signal/core/show/moment';
import { BadInput } from '../http/problems.js';
import { newId } from './rows.js';

/**
 * Finds where cues belong in an order, which need not be sorted: behind the last moment with a lower cue.
 * @returns a function that gives the index of that moment; -1 for the beginning
 */
export function placesIn(cues: readonly string[]): (cue: string) => number {
  // The lowest cue from each place on: it never falls towards the end, so that it can be searched.
  const lowest = new Array<string>(cues.length);
  for (let at = cues.length - 1; at >= 0; at--) {
    const rest = lowest[at + 1];
    lowest[at] = rest !== undefined && compareCues(rest, cues[at]!) < 0 ? rest : cues[at]!;
  }
  return (cue) => {
    let low = 0;
    let high = cues.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (compareCues(lowest[middle]!, cue) < 0) low = middle + 1;
      else high = middle;
    }
    return low - 1;
  };
}

/** The new moments by the moment that each comes behind, in the order of their cues. */
function byPlace(fresh: readonly NewMoment[], moments: readonly Moment[]): Map<number, NewMoment[]> {
  const placeOf = placesIn(moments.map(({ cue }) => cue));
  const groups = new Map<number, NewMoment[]>();
  for (const one of fresh.toSorted((a, b) => compareCues(a.cue, b.cue))) {
    const place = placeOf(one.cue);
    const group = groups.get(place);
    if (group) group.push(one);
    else groups.set(place, [one]);
  }
  return groups;
}

/** @throws BadInput if moments would call each other without end */
export function importOps(placed: PlacedShow, { moments: read, columns }: ReadMoments): Op[] {
  const { show } = placed;
  const known = new Map(show.moments.map((moment) => [moment.cue, moment]));
  const position = (at: number): number => positionOf(placed, 'moments', show.moments[at]!.id);
  const changed = read.flatMap((one) => {
    const same = known.get(one.cue);
    return same ? [takeOver(same, one, columns, show)] : [];
  });
  const ops: Op[] = changed.map((row) => ({
    op: 'put',
    table: 'moments',
    row,
    position: positionOf(placed, 'moments', row.id),
  }));
  const fresh = read.filter(({ cue }) => !known.has(cue));
  const rows: Moment[] = [];
  for (const [place, group] of byPlace(fresh, show.moments)) {
    const before = place < 0 ? null : position(place);
    const after = place + 1 < show.moments.length ? position(place + 1) : null;
    const from = before ?? (after ?? 1) - group.length - 1;
    const step = after === null || before === null ? 1 : (after - before) / (group.length + 1);
    group.forEach((one, at) => {
      const row = { ...one, id: newId() };
      rows.push(row);
      ops.push({ op: 'put', table: 'moments', row, position: from + step * (at + 1) });
    });
  }
  const now = new Map([...show.moments, ...changed, ...rows].map((moment) => [moment.id, moment]));
  const ring = anyRing([...now.values()]);
  if (ring)
    throw new BadInput([
      { field: 'file', message: `Cue ${ring.cue} would call itself again without any delay. Add a delay.` },
    ]);
  return ops;
}
