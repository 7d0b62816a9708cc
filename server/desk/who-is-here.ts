/** Keeps which pages are connected, what they show and what is plugged in there. It tells changes together, a few times a second at most. */
import type { IncomingMessage } from 'node:http';
import type { Here, HereSeen } from '@tawny-signal/core/people/here';
import { AFAR, hereName, roundTrip } from '@tawny-signal/core/people/here';
import { addressOf, isFromHere } from '../people/addresses.js';
import type { Somebody } from '../people/asking.js';
import { browserWords } from '../people/browser-words.js';

/** How long it collects changes before it tells them. */
const TELL_MS = 200;
/** The shortest of this many round trips counts: a longer one may come from a busy machine, not from the network. */
const TRIPS = 5;

export interface WhoIsHere {
  /** A page has connected. It is listed once it has said what it shows. */
  came(id: number, who: Somebody, request: IncomingMessage): void;
  said(id: number, here: Here): void;
  /** Sets what is plugged in there. */
  offers(id: number, ports: readonly string[]): void;
  /** The page has answered a ping. */
  answered(id: number, tripMs: number): void;
  left(id: number): void;
  all(): HereSeen[];
  /** Whether the page shows no traffic, and so gets no batches. */
  isQuiet(id: number): boolean;
  /** Returns the name of a page by its id; empty if there is none. */
  nameOf(page: string): string;
}

interface Page {
  /** Empty until the page has sent it. */
  page: string;
  /** True for a page whose user has signed in: it is listed under that name, whatever the browser is called. */
  isNamed: boolean;
  seen: HereSeen;
  trips: number[];
}

/** @param tell is called with the pages that have changed, and the ids of those that have gone */
export function createWhoIsHere(tell: (changed: HereSeen[], gone: number[]) => void): WhoIsHere {
  const pages = new Map<number, Page>();
  const changed = new Set<number>();
  const gone = new Set<number>();
  let due: NodeJS.Timeout | null = null;

  function later(): void {
    due ??= setTimeout(() => {
      due = null;
      const seen = [...changed].flatMap((id) => pages.get(id)?.seen ?? []);
      const ids = [...gone];
      changed.clear();
      gone.clear();
      tell(seen, ids);
    }, TELL_MS).unref();
  }

  function change(id: number, what: Partial<HereSeen>): void {
    const one = pages.get(id);
    if (!one) return;
    one.seen = { ...one.seen, ...what };
    if (one.page === '') return;
    changed.add(id);
    later();
  }

  return {
    came(id, who, request) {
      const seen: HereSeen = {
        id,
        name: who.name,
        role: who.role,
        from: isFromHere(request) ? '' : addressOf(request),
        browser: browserWords(request.headers['user-agent'] ?? ''),
        since: Date.now(),
        tripMs: null,
        ports: [],
        path: '/',
        field: null,
        hidden: false,
      };
      pages.set(id, { page: '', isNamed: who.sessionId !== null, seen, trips: [] });
    },
    said(id, { page, name, ...rest }) {
      const one = pages.get(id);
      if (!one) return;
      one.page = page;
      change(id, one.isNamed ? rest : { ...rest, name });
    },
    offers: (id, ports) => change(id, { ports: [...ports] }),
    answered(id, tripMs) {
      const one = pages.get(id);
      if (!one) return;
      one.trips = [...one.trips.slice(1 - TRIPS), tripMs];
      const least = roundTrip(Math.min(...one.trips));
      if (least !== one.seen.tripMs) change(id, { tripMs: least });
    },
    left(id) {
      const one = pages.get(id);
      if (!pages.delete(id) || one?.page === '') return;
      gone.add(id);
      later();
    },
    isQuiet: (id) => pages.get(id)?.seen.path === AFAR,
    all: () => [...pages.values()].filter(({ page }) => page !== '').map(({ seen }) => seen),
    nameOf(page) {
      const found = page === '' ? undefined : [...pages.values()].find((one) => one.page === page);
      return found ? hereName(found.seen) : '';
    },
  };
}
