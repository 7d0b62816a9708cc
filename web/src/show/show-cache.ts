/** The show in TanStack Query: read once, then updated by the edits that arrive over the live connection. */
import type { QueryClient } from '@tanstack/react-query';
import { applyOps, type PlacedShow } from '@tawny-signal/core/edits';
import { withLive, type LiveShow } from '@tawny-signal/core/show/live';
import type { ServerEdit } from '../live/connection';

export const SHOW = ['show'] as const;
export const UNDO = ['undo'] as const;
export const EDITS = ['edits'] as const;

export interface ReadShow extends PlacedShow {
  rev: number;
}

/** Applies an edit to the known show. If an edit was missed, the show is read again. */
export function takeEdit(queries: QueryClient, edit: ServerEdit): void {
  const known = queries.getQueryData<ReadShow>(SHOW);
  if (known && edit.ops && edit.rev === known.rev + 1) {
    queries.setQueryData<ReadShow>(SHOW, { rev: edit.rev, ...applyOps(known, edit.ops) });
  } else if (!known || edit.rev > known.rev) void queries.invalidateQueries({ queryKey: SHOW });
  void queries.invalidateQueries({ queryKey: UNDO });
  void queries.invalidateQueries({ queryKey: EDITS });
}

/** Takes over what signals have changed, which is no edit. */
export function takeLive(queries: QueryClient, live: LiveShow): void {
  queries.setQueryData<ReadShow>(SHOW, (known) => known && { ...known, ...withLive(known, live) });
}
