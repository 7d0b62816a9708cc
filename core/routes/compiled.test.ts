/** What passes a route. The rules are our own; kinds and numbers are those of MIDI 1.0, OSC 1.0 and DMX512 (from memory). */
import { describe, expect, test } from '@jest/globals';
import { CHANNEL_KINDS, type ChannelKind, type Signal } from '../signal.js';
import type { Route, RouteKind } from '../show/route.js';
import { channelTable, compilePass } from './compiled.js';
import { newRoute } from './words.js';

const pass = (carries: Route['carries'], change: object, signal: Signal): Signal | null => {
  const out = compilePass({ ...newRoute(carries, 'a', 'b'), ...change } as Route)(signal);
  return out && structuredClone(out);
};
const midi = (kind: ChannelKind, channel: number, number: number, value = 1): Signal => ({
  kind,
  channel,
  number,
  value,
});

describe('channels', () => {
  test('any leaves on its own', () => {
    expect([...channelTable('any')]).toEqual([...Array(16).keys()]);
  });

  test('of a range stay, go to one, or move along; the first move of a channel counts; the others do not pass', () => {
    const table = [
      ...channelTable([
        { from: [1, 2], to: null },
        { from: [4, 6], to: [9, 11] },
        { from: [6, 8], to: [0, 0] },
        { from: [15, 15], to: [3, 3] },
      ]),
    ];
    expect(table).toEqual([-1, 1, 2, -1, 9, 10, 11, 0, 0, -1, -1, -1, -1, -1, -1, 3]);
  });
});

test('slots pass from the first to the last of a range, moved by its offset; other signals do not', () => {
  const slots = (change: object, ...numbers: number[]) =>
    numbers.map((slot) => {
      const out = pass('dmx', change, { kind: 'slot', slot, level: 9 });
      return out && 'slot' in out ? out.slot : null;
    });
  expect(slots({ slots: [10, 20], offset: 0 }, 9, 10, 15, 20, 21)).toEqual([null, 10, 15, 20, null]);
  expect(slots({ slots: 'any', offset: 500 }, 1, 12, 13)).toEqual([501, 512, null]);
  expect(slots({ slots: 'any', offset: -5 }, 5, 6)).toEqual([null, 1]);
  expect(pass('dmx', { slots: 'any', offset: 0 }, midi('noteOn', 0, 60))).toBeNull();
});

describe('of MIDI', () => {
  /** The kind of a route that lets each message through. */
  const OF: Record<ChannelKind, RouteKind> = {
    noteOff: 'notes',
    noteOn: 'notes',
    polyPressure: 'pressure',
    controlChange: 'controls',
    programChange: 'programs',
    channelPressure: 'pressure',
    pitchBend: 'bend',
  };
  test.each([...CHANNEL_KINDS])('%s passes by its own kind and no other', (kind) => {
    for (const route of ['notes', 'pressure', 'controls', 'programs', 'bend', 'sysex', 'clock'] as const)
      expect([route, pass('midi', { kinds: [route] }, midi(kind, 3, 60)) !== null]).toEqual([
        route,
        route === OF[kind],
      ]);
  });

  test('system-exclusive and clock pass by their kinds, as they are', () => {
    const sysex: Signal = { kind: 'sysex', bytes: Uint8Array.of(0xf0, 1, 0xf7) };
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    expect([pass('midi', { kinds: ['sysex'] }, sysex), pass('midi', { kinds: ['clock'] }, sysex)]).toEqual([
      sysex,
      null,
    ]);
    expect([pass('midi', { kinds: ['clock'] }, clock), pass('midi', { kinds: ['sysex'] }, clock)]).toEqual([
      clock,
      null,
    ]);
    expect(pass('midi', {}, { kind: 'slot', slot: 1, level: 1 })).toBeNull();
  });

  test('notes are those of the range, moved; a controller is neither asked nor moved', () => {
    const change = { notes: [36, 51], transpose: -36 };
    for (const kind of ['noteOn', 'noteOff', 'polyPressure'] as const) {
      expect(pass('midi', change, midi(kind, 0, 36, 7))).toEqual(midi(kind, 0, 0, 7));
      expect(pass('midi', change, midi(kind, 0, 51, 7))).toEqual(midi(kind, 0, 15, 7));
      expect(pass('midi', change, midi(kind, 0, 35))).toBeNull();
      expect(pass('midi', change, midi(kind, 0, 52))).toBeNull();
    }
    expect(pass('midi', change, midi('controlChange', 0, 7, 9))).toEqual(midi('controlChange', 0, 7, 9));
    expect(pass('midi', { transpose: -1 }, midi('noteOn', 0, 0))).toBeNull();
    expect(pass('midi', { transpose: 1 }, midi('noteOn', 0, 126))).toEqual(midi('noteOn', 0, 127));
    expect(pass('midi', { transpose: 1 }, midi('noteOn', 0, 127))).toBeNull();
  });

  test('a channel leaves as its table says', () => {
    const change = { channels: [{ from: [9, 9], to: [0, 0] }] };
    expect(pass('midi', change, midi('noteOn', 9, 60))).toEqual(midi('noteOn', 0, 60));
    expect(pass('midi', change, midi('noteOn', 0, 60))).toBeNull();
  });
});

describe('of OSC', () => {
  const heard = (prefix: string, newPrefix: string, address: string): string | null => {
    const out = pass('osc', { prefix, newPrefix }, { kind: 'osc', address, args: [{ type: 'i', value: 4 }] });
    return out?.kind === 'osc' ? `${out.address} ${JSON.stringify(out.args)}` : null;
  };
  test.each([
    ['/', '/', '/fog/low', '/fog/low'],
    ['/', '/sea', '/fog', '/sea/fog'],
    ['/fog', '/', '/fog/low', '/low'],
    ['/fog', '/', '/fog', '/'],
    ['/fog/', '/mist/', '/fog/low', '/mist/low'],
    ['/fog//', '/mist//', '/fog/low', '/mist/low'],
    ['/fog', '/mist', '/fog', '/mist'],
    ['/fog', '/mist', '/foggy', null],
    ['/fog', '/mist', '/sea/fog', null],
  ])('%s to %s: %s leaves as %s', (prefix, newPrefix, address, wanted) => {
    expect(heard(prefix, newPrefix, address)).toBe(wanted && `${wanted} [{"type":"i","value":4}]`);
  });
  test('nothing else passes', () => expect(pass('osc', { prefix: '/' }, midi('noteOn', 0, 1))).toBeNull());
});

describe('of DMX', () => {
  const slot = (number: number, level = 9): Signal => ({ kind: 'slot', slot: number, level });
  test('slots are those of the range, moved, and none leaves 1 to 512', () => {
    const change = { slots: [10, 20], offset: -9 };
    expect(pass('dmx', change, slot(10))).toEqual(slot(1));
    expect(pass('dmx', change, slot(20))).toEqual(slot(11));
    expect([pass('dmx', change, slot(9)), pass('dmx', change, slot(21))]).toEqual([null, null]);
    expect(pass('dmx', { offset: -1 }, slot(1))).toBeNull();
    expect(pass('dmx', { offset: 1 }, slot(511))).toEqual(slot(512));
    expect(pass('dmx', { offset: 1 }, slot(512))).toBeNull();
    for (const number of [1, 512]) expect(pass('dmx', { slots: 'any' }, slot(number))).toEqual(slot(number));
    expect(pass('dmx', {}, midi('noteOn', 0, 1))).toBeNull();
  });
});
