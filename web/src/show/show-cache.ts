/** The show in TanStack Query: read once, then updated by the edits that arrive over the live connection. */
import type { QueryClient } from '@tanstack/react-query';
import { applyOps, type PlacedShow } from '@tawny-signal/core/edits';
import { withLive, type LiveShow } from '@tawny-signal/core/show/live';
import type { ServerEdit } from '../live/connection';

export const SHOW = ['show'] as const;
export const UNDO = ['undo'] as const;
export const EDITS = ['edits'] as const;
/** The list of shows, and the versions of the open one. */
export const SHOWS = ['shows'] as const;
export const PEOPLE = ['people'] as const;
export const VERSIONS = ['versions'] as const;

export interface ReadShow extends PlacedShow {
  /** The show that is open. */
  id: string;
  rev: number;
}

/** Applies an edit to the known show. If an edit was missed, or another show was opened, the show is read again. */
export function takeEdit(queries: QueryClient, edit: Omit<ServerEdit, 'page' | 'by'>): void {
  const known = queries.getQueryData<ReadShow>(SHOW);
  const isKnown = known?.id === edit.showId;
  if (isKnown && edit.ops && edit.rev === known.rev + 1) {
    queries.setQueryData<ReadShow>(SHOW, { id: known.id, rev: edit.rev, ...applyOps(known, edit.ops) });
  } else if (!isKnown || edit.rev > known.rev) void queries.invalidateQueries({ queryKey: SHOW });
  for (const queryKey of [UNDO, EDITS, SHOWS, VERSIONS]) void queries.invalidateQueries({ queryKey });
}

/** Takes over what signals have changed, which is no edit. */
export function takeLive(queries: QueryClient, live: LiveShow): void {
  queries.setQueryData<ReadShow>(SHOW, (known) => known && { ...known, ...withLive(known, live) });
}
