/** A compiled route: which signals pass, and what they become. */
import type { ChannelKind, OscSignal, Signal } from '../signal.js';
import type { Route, RouteKind, RouteOf } from '../show/route.js';

/** How a route's kinds sort MIDI's channel messages. */
const KIND_OF: Record<ChannelKind, RouteKind> = {
  noteOff: 'notes',
  noteOn: 'notes',
  polyPressure: 'pressure',
  controlChange: 'controls',
  programChange: 'programs',
  channelPressure: 'pressure',
  pitchBend: 'bend',
};

/** @returns the signal to send, valid until the next call; null if the signal does not pass */
export type Pass = (signal: Signal) => Signal | null;

/** For each channel 0–15 the channel that it is sent on; −1 if it does not pass. If a channel is moved more than once, the first move counts. */
export function channelTable(channels: RouteOf<'midi'>['channels']): Int8Array {
  const table = new Int8Array(16).fill(-1);
  if (channels === 'any') return table.map((_, channel) => channel);
  for (const { from, to } of channels) {
    for (let channel = from[0]; channel <= from[1]; channel++) {
      if (table[channel]! >= 0) continue;
      table[channel] = !to ? channel : to[0] === to[1] ? to[0] : to[0] + channel - from[0];
    }
  }
  return table;
}

function compileMidi(route: RouteOf<'midi'>): Pass {
  const channels = channelTable(route.channels);
  const kinds = new Set<RouteKind>(route.kinds);
  const [low, high] = route.notes === 'any' ? [0, 127] : route.notes;
  const { transpose } = route;
  const out = { kind: 'noteOn' as ChannelKind, channel: 0, number: 0, value: 0 };
  return (signal) => {
    if (signal.kind === 'sysex') return kinds.has('sysex') ? signal : null;
    if (signal.kind === 'system') return kinds.has('clock') ? signal : null;
    if (!('channel' in signal)) return null;
    if (!kinds.has(KIND_OF[signal.kind])) return null;
    const channel = channels[signal.channel]!;
    if (channel < 0) return null;
    let { number } = signal;
    if (signal.kind === 'noteOn' || signal.kind === 'noteOff' || signal.kind === 'polyPressure') {
      if (number < low || number > high) return null;
      number += transpose;
      if (number < 0 || number > 127) return null;
    }
    out.kind = signal.kind;
    out.channel = channel;
    out.number = number;
    out.value = signal.value;
    return out;
  };
}

const withoutEnd = (prefix: string): string => prefix.replace(/\/+$/, '');

function compileOsc(route: RouteOf<'osc'>): Pass {
  const prefix = withoutEnd(route.prefix);
  const instead = withoutEnd(route.newPrefix);
  const out: OscSignal = { kind: 'osc', address: '/', args: [] };
  return (signal) => {
    if (signal.kind !== 'osc' || !signal.address.startsWith(prefix)) return null;
    const rest = signal.address.slice(prefix.length);
    if (rest !== '' && !rest.startsWith('/')) return null;
    out.address = instead + rest || '/';
    out.args = signal.args;
    return out;
  };
}

function compileDmx(route: RouteOf<'dmx'>): Pass {
  const [low, high] = route.slots === 'any' ? [1, 512] : route.slots;
  const out = { kind: 'slot' as const, slot: 1, level: 0 };
  return (signal) => {
    if (signal.kind !== 'slot' || signal.slot < low || signal.slot > high) return null;
    out.slot = signal.slot + route.offset;
    out.level = signal.level;
    return out.slot >= 1 && out.slot <= 512 ? out : null;
  };
}

export function compilePass(route: Route): Pass {
  switch (route.carries) {
    case 'midi':
      return compileMidi(route);
    case 'osc':
      return compileOsc(route);
    case 'dmx':
      return compileDmx(route);
  }
}

export interface CompiledRoute {
  source: Route;
  inLine: number;
  outLine: number;
  outMuted: boolean;
  pass: Pass;
  /** Notes that sound through it, as they left: channel << 7 | number. */
  held: Set<number>;
}
