/** Routes in words, and as people type them. */
import type { ChannelMove, Route, RouteKind, RouteOf } from '../show/route.js';
import { readChannels, writeChannels, writeSpan, type Typed } from '../typed/range.js';

export const KIND_WORDS: Record<RouteKind, string> = {
  notes: 'notes',
  controls: 'controllers',
  programs: 'programs',
  bend: 'pitch bend',
  pressure: 'pressure',
  sysex: 'system-exclusive',
  clock: 'clock and timecode',
};

const HINT = 'Write channels like 1-8, or moved ones like 10 -> 2, with commas between; or any.';

/** `any`, `1-8`, `10 -> 2`, `1-4 -> 5-8, 10`. */
export function readMoves(text: string): Typed<RouteOf<'midi'>['channels']> {
  if (['', 'any', 'all'].includes(text.trim().toLowerCase())) return { ok: true, value: 'any' };
  const moves: ChannelMove[] = [];
  for (const part of text.split(',')) {
    const [left = '', right, more] = part.split(/->|→|>/);
    if (more !== undefined || left.trim() === '') return { ok: false, reason: HINT };
    const from = readChannels(left);
    if (!from.ok) return from;
    const to = right === undefined ? null : readChannels(right);
    if (to && !to.ok) return to;
    if (to && to.value === 'any') return { ok: false, reason: HINT };
    const span: [number, number] = from.value === 'any' ? [0, 15] : from.value;
    const target = to ? (to.value as [number, number]) : null;
    if (target && target[0] !== target[1] && target[1] - target[0] !== span[1] - span[0]) {
      return { ok: false, reason: 'Move channels to one channel, or to as many: 1-4 -> 5-8.' };
    }
    moves.push({ from: span, to: target });
  }
  return { ok: true, value: moves };
}

export function writeMoves(channels: RouteOf<'midi'>['channels']): string {
  if (channels === 'any') return 'any';
  return channels
    .map(({ from, to }) => (to ? `${writeChannels(from)} → ${writeChannels(to)}` : writeChannels(from)))
    .join(', ');
}

/** What passes, without the lines: `channel 10 → 2 · notes 36–51 · +12`. */
export function routeWords(route: Route): string {
  switch (route.carries) {
    case 'midi': {
      const parts = [route.channels === 'any' ? 'all channels' : `ch ${writeMoves(route.channels)}`];
      if (route.kinds.length < Object.keys(KIND_WORDS).length)
        parts.push(route.kinds.map((kind) => KIND_WORDS[kind]).join(', '));
      if (route.notes !== 'any') parts.push(`notes ${writeSpan(route.notes)}`);
      if (route.transpose !== 0)
        parts.push(`${route.transpose > 0 ? '+' : '−'}${Math.abs(route.transpose)} semitones`);
      return parts.join(' · ');
    }
    case 'osc':
      return route.prefix === route.newPrefix ? route.prefix : `${route.prefix} → ${route.newPrefix}`;
    case 'dmx': {
      const slots = route.slots === 'any' ? 'all slots' : `slots ${writeSpan(route.slots)}`;
      if (route.offset === 0) return slots;
      return `${slots} · ${route.offset > 0 ? '+' : '−'}${Math.abs(route.offset)}`;
    }
  }
}

/** Creates a route that passes everything unchanged. */
export function newRoute(
  carries: Route['carries'],
  fromId: string | null,
  toId: string | null,
): Omit<Route, 'id'> {
  const common = { on: true, fromId, toId, ring: false };
  switch (carries) {
    case 'midi':
      return {
        ...common,
        carries,
        channels: 'any',
        kinds: Object.keys(KIND_WORDS) as RouteKind[],
        notes: 'any',
        transpose: 0,
      } as Omit<RouteOf<'midi'>, 'id'>;
    case 'osc':
      return { ...common, carries, prefix: '/', newPrefix: '/' } as Omit<RouteOf<'osc'>, 'id'>;
    case 'dmx':
      return { ...common, carries, slots: 'any', offset: 0 } as Omit<RouteOf<'dmx'>, 'id'>;
  }
}
