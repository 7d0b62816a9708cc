/** Who uses this browser, and what they may: asked of the server before anything else. */
import { useSyncExternalStore } from 'react';
import type { Me } from '@tawny-signal/core/people/people';
import { may, refusalOf, type Role } from '@tawny-signal/core/people/roles';
import { ONLY_WATCHES, thisDesk } from '../show/this-desk';

const AGAIN_MS = 500;
const listeners = new Set<() => void>();
/** Null until the server has said it. */
let me: Me | null = null;

const follow = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Asks the server, again and again while it is away. */
export async function askWho(): Promise<void> {
  for (;;) {
    const response = await fetch('/api/people/me').catch(() => null);
    if (response?.ok) {
      me = (await response.json()) as Me;
      for (const listener of listeners) listener();
      return;
    }
    await new Promise((done) => setTimeout(done, AGAIN_MS));
  }
}

export const useMe = (): Me | null => useSyncExternalStore(follow, () => me);
export const useMay = (need: Role): boolean => useSyncExternalStore(follow, () => isAllowed(need));

const asker = () => (me?.role ? { role: me.role, standIn: false } : null);
const isAllowed = (need: Role): boolean => may(asker(), need);

/** Whether the server said last that this page is let in. */
export const isLetIn = (): boolean => asker() !== null;

/** Why this is not done from here, in words; null if it may be done. */
export function whyNot(need: Role): string | null {
  if (thisDesk().watches) return ONLY_WATCHES;
  return isAllowed(need) ? null : refusalOf(asker(), need);
}
