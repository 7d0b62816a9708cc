/**
 * Rings: routes that would feed themselves. A message that leaves on a line may come in on it again, if whoever is there
 * passes on what it gets; so routes from line to line that lead back to where they began are a ring, as soon as there
 * is a message that gets all the way round.
 */
import { CARRIES } from '../show/line.js';
import type { Show } from '../show.js';
import type { Route, RouteOf } from '../show/route.js';
import { CHANNEL_KINDS, type Signal } from '../signal.js';
import { compilePass, type Pass } from './compiled.js';

/** One message of every kind, to test which get through all routes of a ring. */
function samples(carries: Route['carries']): Signal[] {
  switch (carries) {
    case 'midi': {
      const list: Signal[] = [
        { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, 0xf7) },
        { kind: 'system', status: 0xf8, data1: 0, data2: 0 },
      ];
      for (const kind of CHANNEL_KINDS) {
        const numbers = kind === 'noteOn' ? 128 : 1;
        for (let channel = 0; channel < 16; channel++)
          for (let number = 0; number < numbers; number++) list.push({ kind, channel, number, value: 64 });
      }
      return list;
    }
    case 'osc':
      return []; // asked by prefixes instead
    case 'dmx':
      return Array.from({ length: 512 }, (_, at) => ({ kind: 'slot', slot: at + 1, level: 255 }));
  }
}

/** Returns the messages that get through all passes, one after another. */
function survives(passes: Pass[], carries: Route['carries']): boolean {
  return samples(carries).some((sample) => {
    let signal: Signal | null = sample;
    for (const pass of passes) {
      signal = pass(signal);
      if (!signal) return false;
      signal = { ...signal };
    }
    return true;
  });
}

/** Returns whether an address that leaves one route can enter the next: one prefix begins the other. */
function joins(from: RouteOf<'osc'>, to: RouteOf<'osc'>): boolean {
  const [out, into] = [from.newPrefix, to.prefix].map((prefix) => `${prefix.replace(/\/+$/, '')}/`);
  return out!.startsWith(into!) || into!.startsWith(out!);
}

/** @param ring of routes that all carry the same */
function goesRound(ring: Route[]): boolean {
  const osc = ring.filter((route) => route.carries === 'osc');
  if (osc.length > 0) return osc.every((route, at) => joins(route, osc[(at + 1) % osc.length]!));
  // Two rounds, because a message that is changed on its way may come back and not pass again.
  return survives([...ring, ...ring].map(compilePass), ring[0]!.carries);
}

/**
 * The ring that a route would close in a show, as the routes in their order, beginning with it; null if it closes none.
 * A route that is off, or whose far ends are known to send nothing back, closes none.
 */
export function ringOf(show: Show, route: Route): Route[] | null {
  const routes = show.routes.filter((other) => other.id !== route.id && open(other)).concat(route);
  if (!open(route)) return null;
  const walk = (path: Route[]): Route[] | null => {
    const { toId } = path.at(-1)!;
    if (toId === route.fromId) return goesRound(path) ? path : null;
    for (const next of routes) {
      if (next.fromId !== toId || next.carries !== route.carries) continue;
      if (path.some((before) => before.toId === next.toId)) continue;
      const found = walk([...path, next]);
      if (found) return found;
    }
    return null;
  };
  return walk([route]);
}

const open = (route: Route): boolean =>
  route.on && !route.ring && route.fromId !== null && route.toId !== null;

/** The ring in words: `Pier pads → Fog laser → Pier pads`. */
export function ringWords(show: Show, ring: Route[]): string {
  const name = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'a removed line';
  return [ring[0]!.fromId, ...ring.map((route) => route.toId)].map(name).join(' → ');
}

/** Returns why the lines of a route cannot carry its messages; null if they can. */
export function misfit(show: Show, route: Route): { field: 'fromId' | 'toId'; message: string } | null {
  for (const field of ['fromId', 'toId'] as const) {
    const line = show.lines.find((candidate) => candidate.id === route[field]);
    if (!line) continue;
    if (CARRIES[line.kind] !== route.carries) {
      return {
        field,
        message: `${line.name} carries ${CARRIES[line.kind].toUpperCase()}, and this route ${route.carries.toUpperCase()}. Choose another line.`,
      };
    }
  }
  return null;
}
