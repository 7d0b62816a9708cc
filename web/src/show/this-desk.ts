/** The settings of this browser: its name for the log, and whether it only watches. Stored in the browser. */
import { useSyncExternalStore } from 'react';
import { cutText } from '@tawny-signal/core/show/text';

export interface ThisDesk {
  name: string;
  /** True if nothing can be done from here except Panic. */
  watches: boolean;
}

const KEY = 'tawny-desk';
const listeners = new Set<() => void>();
let desk: ThisDesk = read();

function read(): ThisDesk {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<ThisDesk>;
    return { name: cutText(String(kept.name ?? ''), 40), watches: kept.watches === true };
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
    // The setting lasts until the page is closed.
  }
  for (const listener of listeners) listener();
}

/** @returns a function that ends it */
export function followThisDesk(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export const useThisDesk = (): ThisDesk => useSyncExternalStore(followThisDesk, () => desk);

/** The message for an action in a browser that only watches. */
export const ONLY_WATCHES = 'This browser only watches. Press “Operate from here” on the prompt desk first.';
