/** A made-up show and signals for the engine's tests, and what left it in words. */
import {
  createEngine as createPlain,
  type Engine as PlainEngine,
  type EngineInput,
  type Outs,
} from './engine.js';
import type { OrderAct } from './cues/order.js';
import type { Before } from './engine/input.js';
import { describeArgument } from './osc/words.js';
import { newMapping } from './mapping/defaults.js';
import type { ChannelSignal, Signal } from './signal.js';
import { emptyShow, type Show } from './show.js';
import { makeLine } from './show/line.js';
import { SENDS, type Send } from './sends.js';
import type { Hear } from './hears.js';
import { makeShape, type Shape } from './show/shape.js';
import { ALWAYS, type When } from './show/when.js';
import type { Mapping } from './show/mapping.js';
import { describeSignal } from './words.js';

export type { Outs } from './engine.js';

/** The engine, with a call for each of its inputs. */
export interface Engine extends PlainEngine {
  load(show: Show, lineIndex: ReadonlyMap<string, number>, now: number): Outs;
  loadMoments(show: Show, now: number): Outs;
  replace(row: Mapping, order: number, now: number): Outs;
  step(line: number, signal: Signal, now: number): Outs;
  wake(now: number): Outs;
  order(act: OrderAct, now: number, desk?: string): Outs;
  tryMapping(id: string, pressed: boolean, now: number): Outs;
  panic(now: number, desk?: string): Outs;
  setArmed(armed: boolean, now: number): Outs;
  tap(now: number): Outs;
  lineGone(line: number, now: number): Outs;
  lineBack(line: number, now: number): Outs;
  openRoute(id: string, now: number): Outs;
  restore(before: Partial<Before>, now: number): Outs;
  restoreLevels(line: number, levels: Uint8Array): Outs;
}

const NOTHING_BEFORE: Before = { standingBy: null, called: null, finished: [], tempo: null };

/** @param seen is told each input with its instant */
export function createEngine(
  seed?: number,
  seen: (input: EngineInput, now: number) => void = () => undefined,
): Engine {
  const plain = createPlain(seed);
  const take = (input: EngineInput, now: number): Outs => {
    seen(input, now);
    return plain.take(input, now);
  };
  return {
    ...plain,
    take,
    load: (given, lineIndex, now) => take({ t: 'show', show: given, lineIndex }, now),
    loadMoments: (given, now) => take({ t: 'moments', show: given }, now),
    replace: (row, order, now) => take({ t: 'mapping', row, order }, now),
    step: (line, signal, now) => take({ t: 'heard', line, signal }, now),
    wake: (now) => take({ t: 'wake' }, now),
    order: (act, now, desk = '') => take({ t: 'order', act, desk }, now),
    tryMapping: (id, pressed, now) => take({ t: 'tryMapping', id, pressed }, now),
    panic: (now, desk = '') => take({ t: 'panic', desk }, now),
    setArmed: (armed, now) => take({ t: 'armed', armed }, now),
    tap: (now) => take({ t: 'tap' }, now),
    lineGone: (line, now) => take({ t: 'lineGone', line }, now),
    lineBack: (line, now) => take({ t: 'lineBack', line }, now),
    openRoute: (id, now) => take({ t: 'openRoute', id }, now),
    restore: (before, now) => take({ t: 'restore', before: { ...NOTHING_BEFORE, ...before } }, now),
    restoreLevels: (line, levels) => take({ t: 'restoreLevels', line, levels }, 0),
  };
}

export const PADS = 0;
export const WATER = 1;
export const LASER = 2;
export const RIG = 3;
export const STREAM = 4;
export const SCORE = 5;
export const LINES = new Map([
  ['pads', PADS],
  ['water', WATER],
  ['laser', LASER],
  ['rig', RIG],
  ['stream', STREAM],
  ['score', SCORE],
]);

export function show(mappings: Mapping[], change: (show: Show) => void = () => undefined): Show {
  const host = '127.0.0.1';
  const made: Show = {
    ...emptyShow('The Lantern Pier'),
    lines: [
      makeLine({ id: 'pads', kind: 'midi-inside', name: 'Pier pads', port: 'Pier pads' }),
      makeLine({ id: 'water', kind: 'osc-udp', name: 'Water screen', host, port: 9000, listenPort: null }),
      makeLine({ id: 'laser', kind: 'midi-inside', name: 'Fog laser', port: 'Fog laser' }),
      makeLine({
        id: 'rig',
        kind: 'sacn',
        name: 'Lantern rig',
        universe: 1,
        host,
        port: 5568,
        listenPort: null,
      }),
      makeLine({ id: 'stream', kind: 'keys-inside', name: 'Quay stream', port: 'Quay stream' }),
      makeLine({ id: 'score', kind: 'midi-inside', name: 'Score player', port: 'Score player' }),
    ],
    mappings,
  };
  change(made);
  return made;
}

export const anyNote = (message: 'pressed' | 'held' | 'released' = 'pressed'): Hear => ({
  message,
  lineId: 'pads',
  channels: 'any',
  numbers: 'any',
  values: 'any',
});

type OscMapping = ReturnType<typeof newMapping>;

export function mapping(id: string, hear: Partial<Hear>, change: Partial<OscMapping> = {}): OscMapping {
  const made = newMapping(id, { ...anyNote(), ...hear } as Hear, 'water');
  return { ...made, sends: [{ ...made.sends[0], address: `/${id}` }], ...change };
}

export function loaded(mappings: Mapping[], change?: (show: Show) => void): Engine {
  const engine = createEngine();
  engine.load(show(mappings, change), LINES, 0);
  return engine;
}

export const press = (number: number, value = 100, channel = 9): ChannelSignal => ({
  kind: 'noteOn',
  channel,
  number,
  value,
});
export const release = (number: number, channel = 9): ChannelSignal => ({
  kind: 'noteOff',
  channel,
  number,
  value: 0,
});
export const control = (number: number, value: number, channel = 1): ChannelSignal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});

const words = (signal: Signal): string => {
  if (signal.kind !== 'osc') return describeSignal(signal, 4);
  const args = signal.args.map((arg) => (arg.type === 'f' ? String(arg.value) : describeArgument(arg)));
  return [signal.address, ...args].join(' ');
};

/** What left, as text; what was held back in brackets. */
export function said(outs: Outs): string[] {
  return outs.signal
    .slice(0, outs.count)
    .map((signal, at) => (outs.heldBack[at] ? `[${words(signal)}]` : words(signal)));
}

/** What of a mapping matters to a test. */
interface Given {
  id?: string;
  answer?: Mapping['answer'];
  bankId?: string | null;
  hear?: Partial<Mapping['hear']>;
  sends: Send[];
  shape?: Partial<Shape>;
  when?: Partial<When>;
}

/** A mapping of notes on the pads, with this of its own. */
export function made({
  id = 'm',
  hear = {},
  sends,
  shape = {},
  when = {},
  answer = null,
  bankId = null,
}: Given): Mapping {
  const start = mapping(id, hear);
  const out = SENDS[sends[0]?.kind ?? 'osc'].out;
  const whole = makeShape({ from: 'value', in: [0, 127], out, curve: 'straight' });
  return { ...start, when: { ...ALWAYS, ...when }, shape: { ...whole, ...shape }, sends, answer, bankId };
}
/** Everything that leaves until then, each with its time. */
export function until(engine: Engine, end: number): string[] {
  const lines: string[] = [];
  for (let at = engine.wakeAt(); at <= end; at = engine.wakeAt())
    lines.push(...said(engine.wake(at)).map((words) => `${at}: ${words}`));
  return lines;
}
