/** Who asks what is being done now: carried along with the call, so that edits and calls can say it without being handed it. */
import { AsyncLocalStorage } from 'node:async_hooks';
import type { Asker } from '@tawny-signal/core/people/roles';

export interface Somebody extends Asker {
  /** Empty for a page of this machine that has not signed in. */
  name: string;
  /** The session that it signed in with; null without one. */
  sessionId: string | null;
}

interface Asking {
  who: Somebody | null;
  /** The id of the page that the call comes from (core/people/here); empty for none. */
  page: string;
}

const asking = new AsyncLocalStorage<Asking>();

export const askedBy = <T>(who: Somebody | null, page: string, act: () => T): T =>
  asking.run({ who, page }, act);

/** @returns the name of who asks; empty where nobody has signed in */
export const nameOfAsker = (): string => asker()?.name ?? '';
export const asker = (): Somebody | null => asking.getStore()?.who ?? null;
export const pageOfAsker = (): string => asking.getStore()?.page ?? '';
