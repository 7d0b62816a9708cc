/** What this browser is at the show: its name, for the log, and whether it only watches. Kept in the browser. */
import { useSyncExternalStore } from 'react';

export interface ThisDesk {
  name: string;
  /** Nothing is done from here, but Panic. */
  watches: boolean;
}

const KEY = 'tawny-desk';
const listeners = new Set<() => void>();
let desk: ThisDesk = read();

function read(): ThisDesk {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<ThisDesk>;
    return { name: String(kept.name ?? '').slice(0, 40), watches: kept.watches === true };
  } catch {
    return { name: '', watches: false };
  }
}

export const thisDesk = (): ThisDesk => desk;

export function changeThisDesk(change: Partial<ThisDesk>): void {
  desk = { ...desk, ...change };
  try {
    localStorage.setItem(KEY, JSON.stringify(desk));
  } catch {
    // It is so until the page is closed.
  }
  for (const listener of listeners) listener();
}

export const useThisDesk = (): ThisDesk =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => desk,
  );
