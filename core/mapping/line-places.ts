/** Where the lines of a show are: their indexes, and which are muted. */
import type { Show } from '../show.js';

/** Finds the lines of a show. */
export interface LinePlaces {
  /** What it finds, as one text: two that have the same find the same. */
  key: string;
  /** Returns the index of a line; -1 if it does not exist. */
  indexOf(id: string | null): number;
  isMuted(id: string | null): boolean;
}

export const NO_PLACES: LinePlaces = { key: '', indexOf: () => -1, isMuted: () => false };

/** @param lineIndex the index of each line, by its id */
export function placesOf({ lines }: Show, lineIndex: ReadonlyMap<string, number>): LinePlaces {
  const muted = new Set(lines.filter((line) => line.muted).map((line) => line.id));
  return {
    key: JSON.stringify(lines.map(({ id }) => [id, lineIndex.get(id), muted.has(id)])),
    indexOf: (id) => (id === null ? -1 : (lineIndex.get(id) ?? -1)),
    isMuted: (id) => id !== null && muted.has(id),
  };
}
