/**
 * Keeps which pages are connected, what they show and what is plugged in there. It tells changes together, twice a second at most, and each page only
 * what it shows: those at the same place, or all where it lists them.
 */
import type { IncomingMessage } from 'node:http';
import type { OfferedPort } from '@tawny-signal/core/link/messages';
import type { Here, HereSeen } from '@tawny-signal/core/people/here';
import { AFAR, hereName, MOST_HERE, roundTrip } from '@tawny-signal/core/people/here';
import { addressOf, isFromHere } from '../people/addresses.js';
import type { Somebody } from '../people/asking.js';
import { browserWords } from '../people/browser-words.js';

/** How long it collects changes before it tells them. */
const TELL_MS = 500;
/** The shortest of this many round trips counts: a longer one may come from a busy machine, not from the network. */
const TRIPS = 5;

export interface WhoIsHere {
  /** A page has connected. It is listed once it has said what it shows. */
  came(id: number, who: Somebody, request: IncomingMessage): void;
  said(id: number, here: Here): void;
  /** Sets which ports are there. */
  offers(id: number, ports: readonly OfferedPort[]): void;
  /** The page has answered a ping. */
  answered(id: number, tripMs: number): void;
  left(id: number): void;
  /** Whether the page shows no traffic, and so gets no batches. */
  isQuiet(id: number): boolean;
  /** Returns the name of a page by its id; empty if there is none. */
  nameOf(page: string): string;
}

/** What is told to pages that show the same. */
export interface HereTold {
  changed: HereSeen[];
  gone: number[];
  /** How many pages are connected. */
  count: number;
  /** True if `changed` are all that these pages show, whatever they were told before. */
  anew: boolean;
}

interface Page {
  /** Empty until the page has sent it. */
  page: string;
  /** True while it lists everybody. */
  lists: boolean;
  /** The view that it was told; null for none. */
  view: string | null;
  /** True for a page whose user has signed in: it is listed under that name, whatever the browser is called. */
  isNamed: boolean;
  seen: HereSeen;
  /** The same for those who do not list everybody: without the trip, which changes often. */
  seenNear: HereSeen;
  trips: number[];
}

/** Names what is plugged in there, without the pads that every page has and without ports that can't be opened. */
const pluggedIn = (ports: readonly OfferedPort[]): string[] =>
  ports
    .filter(({ kind, held }) => (kind === 'midi-browser' || kind === 'sound-browser') && !held)
    .map(({ name }) => name);

/** What pages are shown of the others: those at a place, or everybody. */
interface View {
  /** The pages that are told it. */
  members: Set<number>;
  /** What they were told. */
  shown: ReadonlyMap<number, HereSeen>;
  count: number;
}

/** The view of those who list everybody. No path begins with it. */
const EVERYBODY = '*';
const NO_PAGES: ReadonlyMap<number, HereSeen> = new Map();

/** Returns the view that a page shows; null for none. */
function viewOf({ page, lists, seen }: Page): string | null {
  if (page === '' || seen.hidden || seen.path === AFAR) return null;
  return lists ? EVERYBODY : seen.path;
}

/** Pages of lines say in whose browser a port is. */
const showsPorts = (path: string): boolean => path.startsWith('/lines/');

/** @param tell is called with the pages that are told something, by their ids, and with what */
export function createWhoIsHere(tell: (to: readonly number[], told: HereTold) => void): WhoIsHere {
  const pages = new Map<number, Page>();
  const views = new Map<string, View>();
  /** Pages that may show another view than before. */
  const moved = new Set<number>();
  let due: NodeJS.Timeout | null = null;

  const listed = (): Page[] => [...pages.values()].filter(({ page }) => page !== '');

  /** By place, the pages there. */
  function byPlace(all: readonly Page[]): Map<string, HereSeen[]> {
    const places = new Map<string, HereSeen[]>();
    for (const { seenNear } of all) {
      const there = places.get(seenNear.path);
      if (there) there.push(seenNear);
      else places.set(seenNear.path, [seenNear]);
    }
    return places;
  }

  /** Brings pages that have moved to their views. @returns those that are to be told all of it, by their view */
  function move(): Map<string, number[]> {
    const anew = new Map<string, number[]>();
    for (const id of moved) {
      const page = pages.get(id);
      const next = page ? viewOf(page) : null;
      if (!page || page.view === next) continue;
      leave(id, page);
      page.view = next;
      if (next === null) continue;
      if (!views.has(next)) views.set(next, { members: new Set(), shown: NO_PAGES, count: 0 });
      const joined = anew.get(next);
      if (joined) joined.push(id);
      else anew.set(next, [id]);
    }
    moved.clear();
    return anew;
  }

  function leave(id: number, { view }: Page): void {
    const from = view === null ? undefined : views.get(view);
    if (from?.members.delete(id) && from.members.size === 0) views.delete(view!);
  }

  function tellAll(): void {
    due = null;
    const anew = move();
    const all = listed();
    const count = all.length;
    const places = byPlace(all);
    const carriers = all
      .map(({ seenNear }) => seenNear)
      .filter(({ ports }) => ports.length > 0)
      .slice(0, MOST_HERE);
    for (const [name, view] of views) {
      const seen =
        name === EVERYBODY
          ? all.map(({ seen }) => seen)
          : [...new Set([...(places.get(name) ?? []), ...(showsPorts(name) ? carriers : [])])];
      const shown = new Map(seen.slice(0, MOST_HERE).map((one) => [one.id, one]));
      const changed = [...shown.values()].filter((one) => view.shown.get(one.id) !== one);
      const gone = [...view.shown.keys()].filter((id) => !shown.has(id));
      const isOther = changed.length + gone.length > 0 || view.count !== count;
      if (isOther && view.members.size > 0) tell([...view.members], { changed, gone, count, anew: false });
      const joined = anew.get(name) ?? [];
      if (joined.length > 0) tell(joined, { changed: [...shown.values()], gone: [], count, anew: true });
      for (const id of joined) view.members.add(id);
      Object.assign(view, { shown, count });
    }
  }

  function later(): void {
    due ??= setTimeout(tellAll, TELL_MS).unref();
  }

  function change(id: number, what: Partial<HereSeen>): void {
    const one = pages.get(id);
    if (!one) return;
    one.seen = { ...one.seen, ...what };
    if (what.tripMs === undefined) one.seenNear = { ...one.seen, tripMs: null };
    if (one.page === '') return;
    moved.add(id);
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
      pages.set(id, {
        page: '',
        lists: false,
        view: null,
        isNamed: who.sessionId !== null,
        seen,
        seenNear: seen,
        trips: [],
      });
    },
    said(id, { page, name, lists, ...rest }) {
      const one = pages.get(id);
      if (!one) return;
      one.page = page;
      one.lists = lists;
      change(id, one.isNamed ? rest : { ...rest, name });
    },
    offers: (id, ports) => change(id, { ports: pluggedIn(ports) }),
    answered(id, tripMs) {
      const one = pages.get(id);
      if (!one) return;
      one.trips = [...one.trips.slice(1 - TRIPS), tripMs];
      const least = roundTrip(Math.min(...one.trips));
      if (least !== one.seen.tripMs) change(id, { tripMs: least });
    },
    left(id) {
      const one = pages.get(id);
      if (!one) return;
      leave(id, one);
      pages.delete(id);
      if (one.page !== '') later();
    },
    isQuiet: (id) => pages.get(id)?.seen.path === AFAR,
    nameOf(page) {
      const found = page === '' ? undefined : [...pages.values()].find((one) => one.page === page);
      return found ? hereName(found.seen) : '';
    },
  };
}
