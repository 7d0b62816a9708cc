import { describe, expect, test } from '@jest/globals';
import { show } from '../engine.test-helper.js';
import type { Route } from '../show/route.js';
import { misfit, ringOf, ringWords } from './rings.js';
import { newRoute } from './words.js';

const route = (from: string, to: string, change: object = {}, carries: Route['carries'] = 'midi'): Route =>
  ({ ...newRoute(carries, from, to), id: `${from}-${to}`, ...change }) as Route;

/** The ring that the last of these routes closes, in words; null if it closes none. */
function ring(...routes: Route[]): string | null {
  const made = show([], (given) => void (given.routes = routes.slice(0, -1)));
  const found = ringOf(made, routes.at(-1)!);
  return found && ringWords(made, found);
}

describe('a route that would feed itself', () => {
  test('is found on one line, and through any number of lines, and named', () => {
    expect(ring(route('pads', 'pads'))).toBe('Pier pads → Pier pads');
    expect(ring(route('pads', 'laser'), route('laser', 'pads'))).toBe('Fog laser → Pier pads → Fog laser');
    expect(ring(route('pads', 'laser'), route('laser', 'score'), route('score', 'pads'))).toBe(
      'Score player → Pier pads → Fog laser → Score player',
    );
  });

  test('is found behind a way that leads nowhere, and another ring on the way is passed over', () => {
    expect(ring(route('laser', 'score'), route('laser', 'pads'), route('pads', 'laser'))).toBe(
      'Pier pads → Fog laser → Pier pads',
    );
    expect(ring(route('laser', 'score'), route('score', 'laser'), route('pads', 'laser'))).toBeNull();
    expect(
      ring(route('laser', 'score'), route('score', 'laser'), route('score', 'pads'), route('pads', 'laser')),
    ).toBe('Pier pads → Fog laser → Score player → Pier pads');
  });

  test('is none where a route on the way carries something else', () => {
    expect(ring(route('laser', 'pads', {}, 'osc'), route('pads', 'laser'))).toBeNull();
  });

  test('is none where nothing gets all the way round', () => {
    const ch1 = { channels: [{ from: [0, 0], to: null }], kinds: ['notes'] };
    const ch2 = { channels: [{ from: [1, 1], to: null }], kinds: ['notes'] };
    expect(ring(route('pads', 'laser', ch1), route('laser', 'pads', ch2))).toBeNull();
    expect(
      ring(route('pads', 'laser', { kinds: ['notes'] }), route('laser', 'pads', { kinds: ['clock'] })),
    ).toBeNull();
  });

  test('is none where what comes round is not let through again', () => {
    const moved = { channels: [{ from: [9, 9], to: [1, 1] }], kinds: ['notes'] };
    expect(ring(route('pads', 'pads', moved))).toBeNull();
    expect(ring(route('pads', 'pads', { kinds: ['notes'], transpose: 12 }))).not.toBeNull();
  });

  test('is one by what has no channel, though each lets other channels through', () => {
    const ch1 = { channels: [{ from: [0, 0], to: null }] };
    const ch2 = { channels: [{ from: [1, 1], to: null }] };
    expect(ring(route('pads', 'laser', ch1), route('laser', 'pads', ch2))).not.toBeNull();
  });

  test('is one where a channel is moved and moved back', () => {
    const there = { channels: [{ from: [9, 9], to: [1, 1] }] };
    const back = { channels: [{ from: [1, 1], to: [9, 9] }] };
    expect(ring(route('pads', 'laser', there), route('laser', 'pads', back))).not.toBeNull();
  });

  test('is none where one of its routes is off, or its far ends send nothing back', () => {
    expect(ring(route('pads', 'laser', { on: false }), route('laser', 'pads'))).toBeNull();
    expect(ring(route('pads', 'laser', { ring: true }), route('laser', 'pads'))).toBeNull();
    expect(ring(route('pads', 'laser'), route('laser', 'pads', { ring: true }))).toBeNull();
  });

  test('is found for OSC by its prefixes', () => {
    const osc = (prefix: string, newPrefix: string): string | null =>
      ring(route('water', 'water', { prefix, newPrefix }, 'osc'));
    expect(osc('/', '/')).not.toBeNull();
    expect(osc('/fog', '/fog/low')).not.toBeNull();
    expect(osc('/fog/low', '/fog')).not.toBeNull();
    expect(osc('/fog', '/mist')).toBeNull();
    expect(osc('/fog', '/low/fog')).toBeNull();
    expect(osc('/low/fog', '/fog')).toBeNull();
    expect(osc('/fog', '/foggy')).toBeNull();
  });

  test('is found for OSC through several lines only where each leads into the next one', () => {
    const osc = (from: string, to: string, prefix: string, newPrefix: string): Route =>
      route(from, to, { prefix, newPrefix }, 'osc');
    const through = (last: string): string | null =>
      ring(osc('a', 'b', '/x', '/y'), osc('b', 'c', '/y', '/z'), osc('c', 'a', '/z', last));
    expect(through('/x')).not.toBeNull();
    expect(through('/x/low')).not.toBeNull();
    expect(through('/z')).toBeNull();
    expect(ring(osc('a', 'b', '/x', '/y'), osc('b', 'c', '/w', '/z'), osc('c', 'a', '/z', '/x'))).toBeNull();
  });

  test('is none where one of its ends is not chosen yet', () => {
    const loose = (from: string | null, to: string | null): Route =>
      ({ ...newRoute('midi', from, to), id: 'loose' }) as Route;
    expect([ring(loose(null, null)), ring(loose('pads', null)), ring(loose(null, 'pads'))]).toEqual([
      null,
      null,
      null,
    ]);
  });

  test('is found for DMX only if a slot comes back to where it was let through', () => {
    const dmx = (slots: unknown, offset: number): string | null =>
      ring(route('rig', 'rig', { slots, offset }, 'dmx'));
    expect(dmx('any', 0)).not.toBeNull();
    expect(dmx([1, 12], 100)).toBeNull();
  });
});

test('a route between lines that carry different things is refused in words', () => {
  expect(misfit(show([]), route('pads', 'water'))).toEqual({
    field: 'toId',
    message: 'Water screen carries OSC, and this route MIDI. Choose another line.',
  });
  expect(misfit(show([]), route('pads', 'laser'))).toBeNull();
  expect(misfit(show([]), route('gone', 'laser'))).toBeNull();
  expect(misfit(show([]), route('rig', 'laser'))?.field).toBe('fromId');
});
