import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  control,
  LASER,
  LINES,
  loaded,
  PADS,
  press,
  release,
  said,
  SCORE,
  show,
  WATER,
  type Engine,
} from '../engine.test-helper.js';
import type { Show } from '../show.js';
import type { Route } from '../show/route.js';
import type { Signal } from '../signal.js';
import { makeLine } from '../show/line.js';
import { newRoute } from './words.js';

type Carries = Route['carries'];
const route = (id: string, from: string, to: string, change: object = {}, carries: Carries = 'midi'): Route =>
  ({ ...newRoute(carries, from, to), id, ...change }) as Route;

const withRoutes = (...routes: Route[]): Engine => loaded([], (made) => void (made.routes = routes));
const passes = (engine: Engine, signal: Signal, line = PADS, now = 0): string[] =>
  said(engine.step(line, signal, now));

describe('a route', () => {
  test('passes on what it is told to, and nothing else', () => {
    const engine = withRoutes(
      route('r', 'pads', 'laser', {
        channels: [{ from: [9, 9], to: [1, 1] }],
        kinds: ['notes'],
        notes: [36, 51],
        transpose: 12,
      }),
    );
    expect(passes(engine, press(36, 90, 9))).toEqual(['note 48 (C3) ch 2 pressed, force 90']);
    expect(passes(engine, release(36, 9))).toEqual(['note 48 (C3) ch 2 released']);
    expect(passes(engine, press(35, 90, 9))).toEqual([]);
    expect(passes(engine, press(36, 90, 8))).toEqual([]);
    expect(passes(engine, control(21, 5, 9))).toEqual([]);
    expect(passes(engine, press(36, 90, 9), SCORE)).toEqual([]);
  });

  test('drops a note that would leave 0 to 127', () => {
    const engine = withRoutes(route('r', 'pads', 'laser', { transpose: 100 }));
    expect(passes(engine, press(27))).toEqual(['note 127 (G9) ch 10 pressed, force 100']);
    expect(passes(engine, press(28))).toEqual([]);
  });

  test('goes from one to many, and from many to one', () => {
    const engine = withRoutes(
      route('a', 'pads', 'laser'),
      route('b', 'pads', 'score'),
      route('c', 'score', 'laser'),
    );
    const outs = engine.step(PADS, press(60), 0);
    expect([outs.count, outs.line[0], outs.line[1]]).toEqual([2, LASER, SCORE]);
    expect(passes(engine, press(61), SCORE)).toEqual(['note 61 (C#4) ch 10 pressed, force 100']);
  });

  test('passes system-exclusive and clock only where it lets them', () => {
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    const sysex: Signal = { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, 1, 0xf7) };
    const all = withRoutes(route('r', 'pads', 'laser'));
    expect([passes(all, clock).length, passes(all, sysex).length]).toEqual([1, 1]);
    const notes = withRoutes(route('r', 'pads', 'laser', { kinds: ['notes'] }));
    expect([passes(notes, clock).length, passes(notes, sysex).length]).toEqual([0, 0]);
  });

  test('of OSC changes the beginning of an address, whole parts of it', () => {
    const engine = withRoutes(
      route('r', 'water', 'water2', { prefix: '/fog', newPrefix: '/mist/low' }, 'osc'),
    );
    engine.load(
      show([], (made) => {
        made.lines.push(
          makeLine({
            id: 'water2',
            kind: 'osc-udp',
            name: 'Second',
            host: '127.0.0.1',
            port: 9001,
            listenPort: null,
          }),
        );
        made.routes = [route('r', 'water', 'water2', { prefix: '/fog', newPrefix: '/mist/low' }, 'osc')];
      }),
      new Map([...LINES, ['water2', 6]]),
      0,
    );
    const heard = (address: string): string[] => passes(engine, { kind: 'osc', address, args: [] }, WATER);
    expect(heard('/fog/density')).toEqual(['/mist/low/density']);
    expect(heard('/fog')).toEqual(['/mist/low']);
    expect(heard('/foggy')).toEqual([]);
  });

  test('of DMX moves slots by an offset, and drops those that leave 1 to 512', () => {
    const rig2 = makeLine({
      id: 'rig2',
      kind: 'artnet',
      name: 'Deck',
      universe: 0,
      host: null,
      port: 6454,
      listenPort: 6454,
    });
    const engine = loaded([]);
    engine.load(
      show([], (made) => {
        made.lines.push(rig2);
        made.routes = [route('r', 'rig2', 'rig', { slots: [1, 12], offset: 500 }, 'dmx')];
      }),
      new Map([...LINES, ['rig2', 6]]),
      0,
    );
    const slot = (number: number): string[] => passes(engine, { kind: 'slot', slot: number, level: 255 }, 6);
    expect(slot(12)).toEqual(['slot 512 = 255 (100 %)']);
    expect(slot(13)).toEqual([]);
  });
});

describe('notes that sound through a route', () => {
  const through = route('r', 'pads', 'laser', { channels: [{ from: [9, 9], to: [5, 5] }] });
  const RELEASED = ['note 36 (C2) ch 6 released'];
  function holding(): Engine {
    const engine = withRoutes(through);
    expect(passes(engine, press(36))).toHaveLength(1);
    return engine;
  }
  const reload = (engine: Engine, change: (made: Show) => void): string[] =>
    said(engine.load(show([], change), LINES, 1));

  test('are released when it goes', () => {
    expect(reload(holding(), () => undefined)).toEqual(RELEASED);
  });
  test('are released when it changes', () => {
    const other = { ...through, transpose: 1 } as Route;
    expect(reload(holding(), (made) => void (made.routes = [other]))).toEqual(RELEASED);
  });
  test('are released when it is switched off', () => {
    const off = { ...through, on: false };
    expect(reload(holding(), (made) => void (made.routes = [off]))).toEqual(RELEASED);
  });
  test('are kept when another row changes', () => {
    const kept = reload(
      holding(),
      (made) => void (made.routes = [{ ...through }, route('s', 'score', 'laser')]),
    );
    expect(kept).toEqual([]);
  });
  test('are released by Panic, by safe, and when the line that was heard closes', () => {
    expect(said(holding().panic(1))).toEqual(RELEASED);
    expect(said(holding().setArmed(false, 1))).toEqual(RELEASED);
    expect(said(holding().lineGone(PADS, 1))).toEqual(RELEASED);
  });

  test('whatever is played, none sounds after Panic', () => {
    const played = fc.array(
      fc
        .tuple(fc.boolean(), fc.nat(127), fc.nat(15))
        .map(([down, number, channel]) => (down ? press(number, 64, channel) : release(number, channel))),
      { maxLength: 60 },
    );
    fc.assert(
      fc.property(played, fc.integer({ min: -127, max: 127 }), (signals, transpose) => {
        const engine = withRoutes(route('a', 'pads', 'laser', { transpose }), route('b', 'pads', 'score'));
        const sounding = new Set<string>();
        const take = (outs: ReturnType<Engine['panic']>): void => {
          for (let i = 0; i < outs.count; i++) {
            const signal = outs.signal[i]!;
            if (!('channel' in signal)) continue;
            const key = `${outs.line[i]} ${signal.channel} ${signal.number}`;
            if (signal.kind === 'noteOn') sounding.add(key);
            else sounding.delete(key);
          }
        };
        signals.forEach((signal, at) => take(engine.step(PADS, signal, at)));
        take(engine.panic(1000));
        expect([...sounding]).toEqual([]);
      }),
    );
  });
});
