/** (e) The cost of one message in the engine for each kind of mapping, alone and among 10,000 mappings of mixed kinds. */
import { createEngine, type Engine } from '@tawny-signal/core/engine';
import type { InputOf } from '@tawny-signal/core/engine/input';
import { newMapping, shapeFor } from '@tawny-signal/core/mapping/defaults';
import { SENDS, makeSend, type Send } from '@tawny-signal/core/sends';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { makeHear, type Hear } from '@tawny-signal/core/hears';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { makeShape, type Shape } from '@tawny-signal/core/show/shape';
import type { Signal } from '@tawny-signal/core/signal';

const LINE = 0;
/** The other mappings hear other controls on the measured line; the rest of them hear a second line. */
const LINES = new Map([
  ['in', LINE],
  ['out', 1],
  ['other', 2],
]);

interface Kind {
  name: string;
  hear: (at: number, lineId: string) => Hear;
  send: (at: number) => Send;
  shape?: Partial<Shape>;
  /** The signals for the mapping `at`, the `turn`th time. */
  signals: (at: number, turn: number) => Signal[];
}

/** The number of controls of a kind on one line. */
const ON_ONE_LINE = 512;
const channelOf = (at: number): number => at % 16;
const numberOf = (at: number): number => Math.floor(at / 16) % 32;
const one = (value: number): [number, number] => [value, value];
const midi = (at: number, lineId: string) =>
  ({ lineId, channels: one(channelOf(at)), numbers: one(numberOf(at)), values: 'any' }) as const;
const plain = { lineId: 'out' } as const;
const control = (channel: number, number: number, value: number): Signal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});
const address = (at: number): string => `/deck/${at}/level`;

const KINDS: Kind[] = [
  {
    name: 'note held to note',
    hear: (at, lineId) => makeHear({ message: 'held', ...midi(at, lineId) }),
    send: (at) => makeSend({ kind: 'note', ...plain, channel: 0, number: at % 128 }),
    signals: (at, turn) => [
      { kind: 'noteOn', channel: channelOf(at), number: numberOf(at), value: 1 + (turn % 127) },
      { kind: 'noteOff', channel: channelOf(at), number: numberOf(at), value: 0 },
    ],
  },
  {
    name: 'controller to OSC, curved',
    hear: (at, lineId) =>
      makeHear({ message: 'control', ...midi(at + 16 * 64, lineId), numbers: one(64 + numberOf(at)) }),
    send: (at) =>
      makeSend({ kind: 'osc', ...plain, address: address(at), args: [{ type: 'f', value: 'shaped' }] }),
    shape: { curve: 'slow-start' },
    signals: (at, turn) => [control(channelOf(at), 64 + numberOf(at), turn % 128)],
  },
  {
    name: 'controller by a formula',
    hear: (at, lineId) =>
      makeHear({ message: 'control', ...midi(at, lineId), numbers: one(96 + numberOf(at)) }),
    send: (at) => makeSend({ kind: 'control', ...plain, channel: 0, number: at % 128 }),
    shape: { curve: 'formula', formula: 'clamp(was * 0.5 + value * 0.5, 0, 127)' },
    signals: (at, turn) => [control(channelOf(at), 96 + numberOf(at), turn % 128)],
  },
  {
    name: '14-bit to 14-bit',
    hear: (at, lineId) => makeHear({ message: 'control14', ...midi(at, lineId) }),
    send: (at) => makeSend({ kind: 'control14', ...plain, channel: 0, number: at % 32 }),
    signals: (at, turn) => [
      control(channelOf(at), numberOf(at), turn % 128),
      control(channelOf(at), numberOf(at) + 32, (turn * 7) % 128),
    ],
  },
  {
    name: 'slot to slot, both 16-bit parts',
    hear: (at, lineId) => makeHear({ message: 'slot', lineId, slots: one(1 + (at % 512)), values: 'any' }),
    send: (at) => makeSend({ kind: 'slot', ...plain, slot: 1 + (at % 511), fine: true }),
    signals: (at, turn) => [{ kind: 'slot', slot: 1 + at, level: turn % 256 }],
  },
  {
    name: 'OSC to colour, three slots',
    hear: (at, lineId) => makeHear({ message: 'osc', lineId, address: address(at) }),
    send: (at) => makeSend({ kind: 'slot', ...plain, slot: 1 + (at % 512), part: 'red' }),
    shape: { colour: { of: 'hue', hue: 0, saturation: 100, brightness: 100 }, out: [0, 360] },
    signals: (at, turn) => [
      { kind: 'osc', address: address(at), args: [{ type: 'f', value: (turn % 100) / 100 }] },
    ],
  },
  {
    // Each pattern is different, so that none is in the cache.
    name: 'OSC pattern, matching one address',
    hear: (at, lineId) => makeHear({ message: 'osc', lineId, address: `/fan/${at}/level` }),
    send: (at) => makeSend({ kind: 'control', ...plain, channel: 0, number: at % 128 }),
    signals: (at, turn) => [
      {
        kind: 'osc',
        address: `/fan/${at}/{level,${turn}}`,
        args: [{ type: 'f', value: (turn % 100) / 100 }],
      },
    ],
  },
  {
    name: 'system-exclusive to program',
    hear: (at, lineId) =>
      makeHear({ message: 'sysex', lineId, template: `F0 7D ${hex(at >> 7)} ${hex(at & 0x7f)} vv F7` }),
    send: () => makeSend({ kind: 'program', ...plain, channel: 0 }),
    signals: (at, turn) => [
      { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, at >> 7, at & 0x7f, turn % 128, 0xf7) },
    ],
  },
  {
    name: 'key to key, chord',
    hear: (at, lineId) => makeHear({ message: 'keyHeld', lineId, code: CODES[at % CODES.length]! }),
    send: () => makeSend({ kind: 'key', ...plain, code: 'KeyS', with: ['ControlLeft'] }),
    signals: (at) => [true, false].map((down) => ({ kind: 'key', code: CODES[at % CODES.length]!, down })),
  },
];
const CODES = ['KeyA', 'KeyB', 'KeyC', 'KeyD', 'KeyE', 'KeyF', 'KeyG', 'KeyH', 'KeyI', 'KeyJ'] as const;

function hex(byte: number): string {
  return byte.toString(16).padStart(2, '0');
}

function mappingOf(kind: Kind, at: number, lineId: string): Mapping {
  const hear = kind.hear(at, lineId);
  const send = kind.send(at);
  const shape = { ...shapeFor(hear.message, send.kind), out: SENDS[send.kind].out, ...kind.shape };
  return {
    ...newMapping(`${kind.name} ${lineId} ${at}`, hear, 'out'),
    shape: makeShape(shape),
    sends: [send],
  };
}

/** The number of measured controls of each kind. */
const HIT = 10;

/** Makes a show with ten measured mappings of one kind, and others of every kind up to the count, none of which hears the measured signals. */
function showOf(measured: Kind, count: number): Show {
  const mappings = Array.from({ length: HIT }, (_, at) => mappingOf(measured, at, 'in'));
  for (let at = HIT; mappings.length < count; at++) {
    for (const kind of KINDS) {
      if (mappings.length >= count) break;
      // There are only ten keys, so other mappings of keys are on another line.
      const lineId = at < ON_ONE_LINE && kind !== KINDS.at(-1) ? 'in' : 'other';
      mappings.push(mappingOf(kind, at, lineId));
    }
  }
  return { ...emptyShow('Bench'), mappings };
}

function run(engine: Engine, inputs: readonly Signal[], from: number): { ms: number; sent: number } {
  let sent = 0;
  const begun = performance.now();
  const heard: InputOf<'heard'> = { t: 'heard', line: LINE, signal: inputs[0]! };
  for (let at = 0; at < inputs.length; at++) {
    heard.signal = inputs[at]!;
    sent += engine.take(heard, from + at).count;
  }
  const ms = performance.now() - begun;
  engine.drainFired();
  return { ms, sent };
}

export interface KindFigures {
  kind: string;
  /** Nanoseconds a message, of the median round: alone, and among 10,000. */
  aloneNs: number;
  amongNs: number;
  /** Of the fastest rounds. */
  bestRatio: number;
}

const median = (list: number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

const ROUNDS = 40;
const MESSAGES = 20_000;

export function benchStepKinds(): KindFigures[] {
  return KINDS.map((kind) => {
    const engines = [HIT, 10_000].map((count) => {
      const engine = createEngine();
      engine.take({ t: 'show', show: showOf(kind, count), lineIndex: LINES }, 0);
      return engine;
    });
    const inputs: Signal[] = [];
    for (let turn = 0; inputs.length < MESSAGES; turn++) inputs.push(...kind.signals(turn % HIT, turn));
    const times: [number[], number[]] = [[], []];
    let now = 0;
    const sent = engines.map((engine) => run(engine, inputs, now).sent);
    if (sent[0] === 0 || sent[0] !== sent[1]) throw new Error(`${kind.name}: ${sent.join(' and ')} sent`);
    for (let round = 0; round < ROUNDS; round++) {
      now += MESSAGES;
      for (const at of round % 2 === 0 ? [0, 1] : [1, 0]) times[at]!.push(run(engines[at]!, inputs, now).ms);
    }
    const each = (ms: number): number => (ms * 1e6) / inputs.length;
    return {
      kind: kind.name,
      aloneNs: each(median(times[0])),
      amongNs: each(median(times[1])),
      bestRatio: Math.min(...times[1]) / Math.min(...times[0]),
    };
  });
}
