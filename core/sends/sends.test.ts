/**
 * Every kind of send. What it sends is checked against MIDI 1.0 (controllers 0–31 with 32–63, parameters by 99/98 or 101/100 and 6/38, bend of 14 bits;
 * from memory) and OSC 1.0 (argument types).
 */
import { describe, expect, test } from '@jest/globals';
import { byHand, type Heard } from '../mapping/heard.js';
import { placeOn } from '../place.js';
import {
  compileSend,
  followsNumber,
  leavesBehind,
  makeSend,
  movedOn,
  placeOf,
  rangeOf,
  saidSend,
  SEND_KINDS,
  sendAs,
  sendDetail,
  SENDS,
  sendSchema,
  sendTitle,
  targetOf,
  type Send,
} from '../sends.js';
import type { Signal } from '../signal.js';
import type { SendPlace } from './compiled.js';
import { argsWords, shapedArgument } from './osc.js';

const heard = (number: number, parts: string[] = []): Heard => ({ ...byHand(0, number), parts });

/** What leaves for a value: the signals as they are then. */
function leaves(
  send: Send,
  value: number,
  place?: SendPlace,
  of: Heard = heard(0),
): Signal[] | 'releases' | 'nothing' {
  const compiled = compileSend(send, place);
  const filled = compiled.fill(value, of);
  return filled === 'signals' ? compiled.signals : filled;
}
const cc = (channel: number, number: number, value: number): Signal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});
const on = 3;

describe('a note', () => {
  const note = makeSend({ kind: 'note', lineId: 'l', channel: on, number: 60 });

  test('is pressed with the value as its force, and released at 0', () => {
    expect(leaves(note, 99.6)).toEqual([{ kind: 'noteOn', channel: on, number: 60, value: 100 }]);
    expect(leaves(note, 900)).toMatchObject([{ value: 127 }]);
    expect(leaves(note, 0.4)).toBe('releases');
    expect(leaves(note, -5)).toBe('releases');
    expect(leaves(note, 0.5)).toMatchObject([{ value: 1 }]);
    expect(compileSend(note).releases).toEqual([{ kind: 'noteOff', channel: on, number: 60, value: 0 }]);
  });

  test('that follows goes as far on as what is heard, over the channels, and nowhere past the last', () => {
    const follows = makeSend({ ...note, number: 120, follows: true });
    const at = (step: number): Signal[] | string => leaves(follows, 1, { step, colour: null });
    expect(at(7)).toMatchObject([{ channel: on, number: 127 }]);
    expect(at(8)).toMatchObject([{ channel: on + 1, number: 0 }]);
    expect(at(12 * 128 + 7)).toMatchObject([{ channel: 15, number: 127 }]);
    expect(at(12 * 128 + 8)).toBe('nothing');
    expect(compileSend(follows, { step: 12 * 128 + 8, colour: null }).signals).toEqual([]);
    expect(leaves(note, 1, { step: 7, colour: null })).toMatchObject([{ number: 60 }]);
  });
});

describe('a channel and number so many places on', () => {
  test.each([
    [0, 0, 0, { channel: 0, number: 0 }],
    [0, 127, 1, { channel: 1, number: 0 }],
    [1, 0, -1, { channel: 0, number: 127 }],
    [0, 0, -1, null],
    [15, 127, 0, { channel: 15, number: 127 }],
    [15, 127, 1, null],
  ])('of channel %i, number %i, %i on', (channel, number, step, place) =>
    expect(placeOn(channel, number, step)).toEqual(place),
  );
});

describe('controllers', () => {
  test('a control change carries seven bits, and follows', () => {
    const control = makeSend({ kind: 'control', lineId: 'l', channel: on, number: 127, follows: true });
    expect(leaves(control, 64.5)).toEqual([cc(on, 127, 65)]);
    expect(leaves(control, 400)).toEqual([cc(on, 127, 127)]);
    expect(leaves(control, -1)).toEqual([cc(on, 127, 0)]);
    expect(leaves(control, 1, { step: 1, colour: null })).toEqual([cc(on + 1, 0, 1)]);
    expect(leaves({ ...control, follows: false }, 1, { step: 1, colour: null })).toEqual([cc(on, 127, 1)]);
    expect(leaves({ ...control, channel: 15 }, 1, { step: 1, colour: null })).toBe('nothing');
  });

  test('one of fourteen bits sends its high seven, then its low seven 32 above', () => {
    const pair = makeSend({ kind: 'control14', lineId: 'l', channel: on, number: 7 });
    expect(leaves(pair, 0x1234)).toEqual([cc(on, 7, 0x24), cc(on, 39, 0x34)]);
    expect(leaves(pair, 99_999)).toEqual([cc(on, 7, 127), cc(on, 39, 127)]);
    expect(leaves(pair, -1)).toEqual([cc(on, 7, 0), cc(on, 39, 0)]);
  });

  test.each([
    [true, 101, 100],
    [false, 99, 98],
  ])('a parameter, registered %s, is chosen by %i and %i, and set by 6 and 38', (registered, high, low) => {
    const parameter = makeSend({ kind: 'parameter', lineId: 'l', channel: on, registered, number: 0x123 });
    expect(leaves(parameter, 0x81)).toEqual([
      cc(on, high, 2),
      cc(on, low, 0x23),
      cc(on, 6, 1),
      cc(on, 38, 1),
    ]);
  });

  test('a program, a bend and the pressure on a channel carry the value', () => {
    const program = makeSend({ kind: 'program', lineId: 'l', channel: on });
    expect(leaves(program, 12.4)).toEqual([{ kind: 'programChange', channel: on, number: 12, value: 0 }]);
    expect(leaves(program, 128)).toMatchObject([{ number: 127 }]);
    const bend = makeSend({ kind: 'bend', lineId: 'l', channel: on });
    expect(leaves(bend, 8192)).toEqual([{ kind: 'pitchBend', channel: on, number: 0, value: 8192 }]);
    expect(leaves(bend, 16_384)).toMatchObject([{ value: 16_383 }]);
    const pressure = makeSend({ kind: 'pressure', lineId: 'l', channel: on });
    expect(leaves(pressure, 64.4)).toEqual([{ kind: 'channelPressure', channel: on, number: 0, value: 64 }]);
    expect(leaves(pressure, 200)).toMatchObject([{ value: 127 }]);
  });
});

describe('an OSC message', () => {
  const message = (args: Extract<Send, { kind: 'osc' }>['args'], address = '/a'): Send =>
    makeSend({ kind: 'osc', lineId: 'l', address, args });
  const argsOf = (send: Send, value: number, number = 0, colour: SendPlace['colour'] = null): unknown => {
    const out = leaves(send, value, { step: 0, colour }, heard(number, ['deck', '4']));
    return Array.isArray(out) && out[0]?.kind === 'osc' ? out[0].args : out;
  };

  test('has the value in each type of number', () => {
    const send = message([
      { type: 'f', value: 'shaped' },
      { type: 'd', value: 'shaped' },
      { type: 'i', value: 'shaped' },
      { type: 'h', value: 'shaped' },
    ]);
    expect(argsOf(send, 2.5)).toEqual([
      { type: 'f', value: 2.5 },
      { type: 'd', value: 2.5 },
      { type: 'i', value: 3 },
      { type: 'h', value: 3n },
    ]);
    expect(argsOf(send, 1e10)).toMatchObject([{}, {}, { value: 2_147_483_647 }, { value: 10_000_000_000n }]);
    expect(argsOf(send, -1e10)).toMatchObject([{}, {}, { value: -2_147_483_648 }, {}]);
  });

  test('has what is fixed as it is, and the heard number', () => {
    const send = message([
      { type: 'i', value: 7.6 },
      { type: 'h', value: 2.2 },
      { type: 'f', value: 0.25 },
      { type: 'd', value: 0.5 },
      { type: 'i', value: 'number' },
      { type: 's', value: 'go' },
      { type: 'T' },
      { type: 'N' },
    ]);
    expect(argsOf(send, 9, 61)).toEqual([
      { type: 'i', value: 8 },
      { type: 'h', value: 2n },
      { type: 'f', value: 0.25 },
      { type: 'd', value: 0.5 },
      { type: 'i', value: 61 },
      { type: 's', value: 'go' },
      { type: 'T' },
      { type: 'N' },
    ]);
  });

  test('has the places of its address and texts filled', () => {
    const send = message([{ type: 's', value: 'cue {number}' }], '/{1}/{2}');
    const out = leaves(send, 1, undefined, heard(5, ['deck', '4']));
    expect(out).toEqual([{ kind: 'osc', address: '/deck/4', args: [{ type: 's', value: 'cue 5' }] }]);
  });

  // The HSB model as core/mapping/colour.test.ts checks it with color-convert: a hue of 240 is blue.
  test('has the parts of a colour: 0 to 1, or 0 to 255 in whole numbers', () => {
    const colour = { of: 'hue', hue: 0, saturation: 100, brightness: 50 } as const;
    const send = message([
      { type: 'f', value: 'red' },
      { type: 'f', value: 'blue' },
      { type: 'i', value: 'blue' },
      { type: 'h', value: 'blue' },
      { type: 'i', value: 'green' },
    ]);
    expect(argsOf(send, 240, 0, colour)).toEqual([
      { type: 'f', value: 0 },
      { type: 'f', value: 0.5 },
      { type: 'i', value: 128 },
      { type: 'h', value: 128n },
      { type: 'i', value: 0 },
    ]);
    expect(argsOf(send, 240)).toMatchObject([{ value: 0 }, { value: 0 }, { value: 0 }, {}, {}]);
    const bright = { of: 'brightness', hue: 120, saturation: 0, brightness: 0 } as const;
    expect(argsOf(send, 20, 0, bright)).toMatchObject([{ value: 0.2 }, {}, {}, {}, { value: 51 }]);
    const pale = { of: 'saturation', hue: 240, saturation: 0, brightness: 100 } as const;
    expect(argsOf(send, 50, 0, pale)).toMatchObject([{ value: 0.5 }, { value: 1 }, {}, {}, { value: 128 }]);
  });

  test('says its arguments in words, and which one the value is', () => {
    const args = [
      { type: 'f', value: 'shaped' },
      { type: 'i', value: 3 },
      { type: 's', value: 'go' },
      { type: 'h', value: 'number' },
      { type: 'I' },
    ] as const;
    expect(argsWords(args)).toBe('float, integer 3, text “go”, long integer heard number, impulse');
    expect(argsWords([])).toBe('no arguments');
    expect(shapedArgument(args)).toBe(0);
    expect(shapedArgument(args.slice(1))).toBe(-1);
    expect(shapedArgument([...args].reverse())).toBe(4);
  });
});

describe('a slot', () => {
  const slot = (more: object = {}): Send => makeSend({ kind: 'slot', lineId: 'l', slot: 10, ...more });
  const at = (step: number): SendPlace => ({ step, colour: null });

  test('carries eight bits, or sixteen over two slots, the coarse one first', () => {
    expect(leaves(slot(), 300)).toEqual([{ kind: 'slot', slot: 10, level: 255 }]);
    expect(leaves(slot(), 99.5)).toMatchObject([{ level: 100 }]);
    expect(leaves(slot({ fine: true }), 0x1234)).toEqual([
      { kind: 'slot', slot: 10, level: 0x12 },
      { kind: 'slot', slot: 11, level: 0x34 },
    ]);
    expect(leaves(slot({ fine: true }), 70_000)).toMatchObject([{ level: 255 }, { level: 255 }]);
    // The last one has no slot after it.
    expect(leaves(slot({ fine: true, slot: 512 }), 255)).toEqual([{ kind: 'slot', slot: 512, level: 255 }]);
  });

  test('follows, by two where it is two wide, up to the last', () => {
    expect(leaves(slot({ follows: true }), 1, at(5))).toMatchObject([{ slot: 15 }]);
    expect(leaves(slot(), 1, at(5))).toMatchObject([{ slot: 10 }]);
    expect(leaves(slot({ follows: true, fine: true }), 1, at(5))).toMatchObject([{ slot: 20 }, { slot: 21 }]);
    expect(leaves(slot({ follows: true }), 1, at(502))).toMatchObject([{ slot: 512 }]);
    expect(leaves(slot({ follows: true }), 1, at(503))).toBe('nothing');
  });

  test('carries a part of the colour', () => {
    const colour = { of: 'hue', hue: 0, saturation: 100, brightness: 100 } as const;
    const part = (name: string, fine = false): unknown =>
      leaves(slot({ part: name, fine }), 120, { step: 0, colour });
    expect([part('red'), part('green'), part('blue')]).toMatchObject([
      [{ level: 0 }],
      [{ level: 255 }],
      [{ level: 0 }],
    ]);
    expect(part('green', true)).toMatchObject([{ level: 255 }, { level: 255 }]);
  });
});

describe('keys', () => {
  test('a chord goes down in order and comes up the other way round', () => {
    const key = makeSend({ kind: 'key', lineId: 'l', code: 'KeyS', with: ['ControlLeft', 'ShiftLeft'] });
    const compiled = compileSend(key);
    expect(compiled.signals).toEqual([
      { kind: 'key', code: 'ControlLeft', down: true },
      { kind: 'key', code: 'ShiftLeft', down: true },
      { kind: 'key', code: 'KeyS', down: true },
    ]);
    expect(
      compiled.releases.map((signal) => (signal.kind === 'key' ? [signal.code, signal.down] : [])),
    ).toEqual([
      ['KeyS', false],
      ['ShiftLeft', false],
      ['ControlLeft', false],
    ]);
    expect([compiled.fill(0.1, heard(0)), compiled.fill(0, heard(0))]).toEqual(['signals', 'releases']);
  });

  test('one after another are tapped with their pauses between', () => {
    const typing = makeSend({
      kind: 'typing',
      lineId: 'l',
      steps: [
        { codes: ['ControlLeft', 'KeyS'], pauseMs: 200 },
        { codes: ['Enter'], pauseMs: 50 },
        { codes: ['Space'], pauseMs: 70 },
      ],
    });
    const { signals, later, releases } = compileSend(typing);
    const shown = (list: readonly Signal[]): string[] =>
      list.map((signal) => (signal.kind === 'key' ? `${signal.code} ${signal.down ? 'down' : 'up'}` : ''));
    expect(shown(signals)).toEqual(['ControlLeft down', 'KeyS down']);
    expect(later.map(({ afterMs, signals: typed }) => [afterMs, ...shown(typed)])).toEqual([
      [30, 'KeyS up', 'ControlLeft up'],
      [200, 'Enter down'],
      [230, 'Enter up'],
      [250, 'Space down'],
      [280, 'Space up'],
    ]);
    // A pause that is shorter than a tap waits for its end.
    const slow = compileSend(makeSend({ kind: 'typing', lineId: 'l', steps: typing.steps, tapMs: 60 }));
    expect(slow.later.map(({ afterMs, up }) => [afterMs, up])).toEqual([
      [60, true],
      [200, false],
      [260, true],
      [260, false],
      [320, true],
    ]);
    expect(releases).toEqual([]);
    expect([leaves(typing, 1), leaves(typing, 0)]).toEqual([signals, 'nothing']);
  });
});

describe('system-exclusive', () => {
  const bytesOf = (send: Send, value: number): unknown => {
    const out = leaves(send, value);
    return Array.isArray(out) && out[0]?.kind === 'sysex' ? [...out[0].bytes] : out;
  };

  test('has the value in its places; without one it is only sent or not', () => {
    const made = (template: string): Send => makeSend({ kind: 'sysex', lineId: 'l', template });
    expect(bytesOf(made('7D vv'), 300)).toEqual([0xf0, 0x7d, 127, 0xf7]);
    expect(bytesOf(made('7D vv'), 0)).toEqual([0xf0, 0x7d, 0, 0xf7]);
    expect(bytesOf(made('7D hh ll'), 16_383)).toEqual([0xf0, 0x7d, 127, 127, 0xf7]);
    expect(bytesOf(made('7D 01'), 1)).toEqual([0xf0, 0x7d, 1, 0xf7]);
    expect(bytesOf(made('7D 01'), 0)).toBe('nothing');
    expect(rangeOf(made('7D hh ll'))).toEqual([0, 16_383]);
    expect(rangeOf(made('7D 01'))).toEqual([0, 1]);
    expect(bytesOf({ ...made('7D 01'), template: 'no bytes' } as Send, 1)).toBe('nothing');
    expect(rangeOf({ ...made('7D 01'), template: 'no bytes' } as Send)).toEqual([0, 1]);
  });

  // MIDI show control 1.0 (from memory): F0 7F <device> 02 <format> <command> <data> F7; set: control and value, low seven bits first.
  test('show control is sent above 0; set carries the value, low seven bits first', () => {
    const go = makeSend({
      kind: 'showControl',
      lineId: 'l',
      device: 5,
      format: 1,
      command: 'go',
      cue: '4.5',
      list: '',
    });
    expect(bytesOf(go, 1)).toEqual([0xf0, 0x7f, 5, 2, 1, 1, 0x34, 0x2e, 0x35, 0xf7]);
    expect(bytesOf(go, 0)).toBe('nothing');
    const set: Send = { ...go, command: 'set', cue: '', control: 0x81 };
    expect(bytesOf(set, 0x102)).toEqual([0xf0, 0x7f, 5, 2, 1, 6, 1, 1, 2, 2, 0xf7]);
    expect(bytesOf(set, 0)).toEqual([0xf0, 0x7f, 5, 2, 1, 6, 1, 1, 0, 0, 0xf7]);
    expect(bytesOf(set, 20_000)).toEqual([0xf0, 0x7f, 5, 2, 1, 6, 1, 1, 127, 127, 0xf7]);
    expect([rangeOf(go), rangeOf(set)]).toEqual([
      [0, 1],
      [0, 16_383],
    ]);
  });
});

describe('what is done to the show', () => {
  const act = (send: Send): unknown => {
    const compiled = compileSend(send);
    expect([compiled.signals, compiled.releases]).toEqual([[], []]);
    expect([compiled.fill(1, heard(0)), compiled.fill(0, heard(0))]).toEqual(['signals', 'nothing']);
    return compiled.act;
  };
  test('is an act above 0', () => {
    expect(act(makeSend({ kind: 'bank', lineId: null, bankId: 'b', act: 'only' }))).toEqual({
      do: 'bank',
      bankId: 'b',
      act: 'only',
    });
    expect(act(makeSend({ kind: 'bank', lineId: null, bankId: null, act: 'on' }))).toBeNull();
    expect(act(makeSend({ kind: 'call', lineId: null, momentId: 'm', act: 'run' }))).toEqual({
      do: 'moment',
      momentId: 'm',
      act: 'run',
    });
    expect(act(makeSend({ kind: 'tap', lineId: null }))).toEqual({ do: 'tap' });
    expect(act(makeSend({ kind: 'panic', lineId: null }))).toEqual({ do: 'panic' });
  });
});

const names = {
  settings: { middleC: 4 as const },
  banks: [{ id: 'b', name: 'Storm' }],
  moments: [{ id: 'm', cue: '4.5', name: 'Lamp lit' }],
  motions: [{ id: 'tide', name: 'Tide' }],
};

/** One send: title, detail, what a moment says of it with a value, what is typed, and the column. */
const WORDS: [Send, number, string, string, string, string | null, string][] = [
  [
    makeSend({ kind: 'note', lineId: 'l', channel: 9, number: 36, follows: true, lengthMs: 250 }),
    90,
    'note 36 (C2) and up',
    'ch 10, for 250 ms',
    'note 36 (C2) and up ch 10 at 90',
    'note 36 (C2) ch 10 at 90 for 0.25 s',
    '36',
  ],
  [
    makeSend({ kind: 'note', lineId: 'l', channel: 0, number: 60 }),
    0,
    'note 60 (C4)',
    'ch 1',
    'note 60 (C4) off',
    'note 60 (C4) ch 1 off',
    '60',
  ],
  [
    makeSend({ kind: 'control', lineId: 'l', channel: 0, number: 21, follows: true }),
    64.123456,
    'CC 21 and up',
    'ch 1',
    'CC 21 and up = 64.1235',
    'cc 21 ch 1 = 64.123456',
    '21',
  ],
  [
    makeSend({ kind: 'control14', lineId: 'l', channel: 2, number: 7 }),
    9000,
    'CC 7, 14-bit',
    'ch 3',
    'CC 7, 14-bit = 9000',
    null,
    '7',
  ],
  [
    makeSend({ kind: 'parameter', lineId: 'l', channel: 2, registered: true, number: 0 }),
    1,
    'RPN 0',
    'ch 3',
    'RPN 0 = 1',
    null,
    '0',
  ],
  [
    makeSend({ kind: 'parameter', lineId: 'l', channel: 2, registered: false, number: 300 }),
    1,
    'NRPN 300',
    'ch 3',
    'NRPN 300 = 1',
    null,
    '300',
  ],
  [
    makeSend({ kind: 'program', lineId: 'l', channel: 2 }),
    12,
    'program',
    'ch 3',
    'program = 12',
    'program 12 ch 3',
    '',
  ],
  [
    makeSend({ kind: 'bend', lineId: 'l', channel: 2 }),
    12,
    'pitch bend',
    'ch 3',
    'pitch bend = 12',
    'bend 12 ch 3',
    '',
  ],
  [
    makeSend({ kind: 'pressure', lineId: 'l', channel: 2 }),
    12,
    'channel pressure',
    'ch 3',
    'channel pressure = 12',
    'pressure 12 ch 3',
    '',
  ],
  [
    makeSend({
      kind: 'osc',
      lineId: 'l',
      address: '/fog',
      args: [
        { type: 's', value: 'x' },
        { type: 'f', value: 'shaped' },
      ],
    }),
    0.5,
    '/fog',
    'text “x”, float',
    '/fog 0.5',
    '/fog 0.5',
    '/fog',
  ],
  [
    makeSend({ kind: 'osc', lineId: 'l', address: '/go', args: [{ type: 'i', value: 3 }] }),
    0.5,
    '/go',
    'integer 3',
    '/go integer 3',
    '/go 0.5',
    '/go',
  ],
  [
    makeSend({ kind: 'osc', lineId: 'l', address: '/go', args: [] }),
    1,
    '/go',
    'no arguments',
    '/go',
    '/go',
    '/go',
  ],
  [
    makeSend({ kind: 'sysex', lineId: 'l', template: '7D vv' }),
    1,
    '7D vv',
    'system-exclusive',
    '7D vv',
    null,
    '7D vv',
  ],
  [
    makeSend({ kind: 'slot', lineId: 'l', slot: 5, fadeMs: 2500 }),
    200,
    'slot 5',
    'level 0–255, fade 2.5 s',
    'slot 5 = 200',
    null,
    '5',
  ],
  [
    makeSend({ kind: 'slot', lineId: 'l', slot: 5, fine: true }),
    200,
    'slots 5 and 6',
    'coarse and fine',
    'slots 5 and 6 = 200',
    null,
    '5',
  ],
  [
    makeSend({ kind: 'slot', lineId: 'l', slot: 5, follows: true, part: 'red' }),
    200,
    'slot 5 and up',
    'red',
    'slot 5 and up = 200',
    null,
    '5',
  ],
  [
    makeSend({ kind: 'key', lineId: 'l', code: 'F4', with: ['ControlLeft'] }),
    1,
    'key Left Ctrl+F4',
    'typed',
    'key Left Ctrl+F4',
    'key F4',
    'F4',
  ],
  [
    makeSend({ kind: 'key', lineId: 'l', code: 'F4', tap: true }),
    1,
    'key F4',
    'tapped',
    'key F4',
    'key F4',
    'F4',
  ],
  [
    makeSend({ kind: 'key', lineId: 'l', code: 'F4', repeatMs: 120 }),
    1,
    'key F4',
    'repeats every 120 ms while held',
    'key F4',
    'key F4',
    'F4',
  ],
  [
    makeSend({ kind: 'typing', lineId: 'l', steps: [{ codes: ['Enter'], pauseMs: 100 }] }),
    1,
    'types Enter',
    'one after another',
    'types Enter',
    null,
    '',
  ],
  [
    makeSend({ kind: 'bank', lineId: null, bankId: 'b', act: 'toggle' }),
    1,
    'bank on or off',
    'this show',
    'bank Storm on or off',
    'bank Storm toggle',
    '',
  ],
  [
    makeSend({ kind: 'bank', lineId: null, bankId: 'gone', act: 'only' }),
    1,
    'this bank only',
    'this show',
    'this bank only',
    'bank undefined only',
    '',
  ],
  [makeSend({ kind: 'call', lineId: null, momentId: null }), 1, 'Go', 'this show', 'Go', 'stop all', ''],
  [
    makeSend({ kind: 'call', lineId: null, momentId: null, act: 'stop' }),
    1,
    'stop all',
    'this show',
    'stop all',
    'stop all',
    '',
  ],
  [
    makeSend({ kind: 'call', lineId: null, momentId: null, act: 'run' }),
    1,
    'run a moment',
    'this show',
    'run the standby',
    'stop all',
    '',
  ],
  [
    makeSend({ kind: 'call', lineId: null, momentId: 'm', act: 'stop' }),
    1,
    'stop a moment',
    'this show',
    'stop 4.5 · Lamp lit',
    'stop 4.5',
    '',
  ],
  [
    makeSend({ kind: 'call', lineId: null, momentId: 'gone', act: 'call' }),
    1,
    'call a moment',
    'this show',
    'call a removed moment',
    'call undefined',
    '',
  ],
  [makeSend({ kind: 'tap', lineId: null }), 1, 'tempo tap', 'this show', 'tempo tap', 'tap', ''],
  [makeSend({ kind: 'panic', lineId: null }), 1, 'Panic', 'this show', 'Panic', 'panic', ''],
  [
    makeSend({
      kind: 'showControl',
      lineId: 'l',
      device: 127,
      format: 1,
      command: 'go',
      cue: '4',
      list: '2',
    }),
    1,
    'go cue 4',
    'lighting, list 2, all devices',
    'go 4',
    'show control go cue 4 list 2 format 1 device all',
    '4',
  ],
  [
    makeSend({
      kind: 'showControl',
      lineId: 'l',
      device: 5,
      format: 9,
      command: 'timedGo',
      cue: '',
      list: '',
      timeMs: 2500,
    }),
    1,
    'timed go',
    'format 9, in 2.5 s, device 5',
    'timed go in 2.5 s',
    'show control timedGo format 9 device 5',
    '',
  ],
  [
    makeSend({
      kind: 'showControl',
      lineId: 'l',
      device: 5,
      format: 1,
      command: 'set',
      cue: '',
      list: '',
      control: 12,
    }),
    700,
    'set',
    'lighting, control 12, device 5',
    'set control 12 to 700',
    'show control set format 1 device 5',
    '',
  ],
  [
    makeSend({
      kind: 'showControl',
      lineId: 'l',
      device: 5,
      format: 1,
      command: 'allOff',
      cue: '9',
      list: '',
    }),
    1,
    'all off cue 9',
    'lighting, device 5',
    'all off',
    'show control all off cue 9 format 1 device 5',
    '9',
  ],
  [
    makeSend({ kind: 'position', lineId: null }),
    1,
    'play the position',
    'this show',
    'play the position',
    null,
    '',
  ],
  [
    makeSend({ kind: 'position', lineId: null, act: 'playFrom', timecode: '01:00:05:00' }),
    1,
    'play from 01:00:05:00',
    'this show',
    'play from 01:00:05:00',
    null,
    '',
  ],
  [
    makeSend({ kind: 'motion', lineId: null, motionId: 'tide', act: 'start' }),
    1,
    'motion: start, or trigger again',
    'this show',
    'Tide: start, or trigger again',
    'motion Tide start',
    '',
  ],
  [
    makeSend({ kind: 'motion', lineId: null, motionId: 'tide', act: 'amount' }),
    0.4,
    'motion: set its amount',
    'this show',
    'Tide: set its amount, 40 %',
    'motion Tide amount = 40 %',
    '',
  ],
  [
    makeSend({ kind: 'tempo', lineId: null, beats: 4 }),
    104,
    'tempo',
    'over 4 beats',
    'tempo 104 over 4 beats',
    null,
    '',
  ],
];

describe('words', () => {
  test.each(WORDS)('of %j', (send, value, title, detail, said, typed, column) => {
    expect(sendTitle(send, 4)).toBe(title);
    expect(sendDetail(send)).toBe(detail);
    expect(saidSend(send, value, names)).toBe(said);
    expect(SENDS[send.kind].typed?.(send, value, names) ?? null).toBe(typed);
    expect(SENDS[send.kind].column?.write(send) ?? '').toBe(column);
  });

  test('are there for every kind', () => {
    expect(new Set(WORDS.map(([send]) => send.kind))).toEqual(new Set(SEND_KINDS));
  });
});

test('a column is read as it was written; one that can’t be read is refused with a reason', () => {
  const read = (send: Send, text: string): unknown => SENDS[send.kind].column!.read(text, 4);
  const note = sendAs('note', null);
  expect(read(note, 'C4')).toEqual({ ok: true, value: { number: 60 } });
  expect(read(note, '60-62')).toEqual({ ok: false, reason: 'one note is sent, like 60 or C4.' });
  expect(read(note, 'any')).toEqual({ ok: false, reason: 'one note is sent, like 60 or C4.' });
  expect(read(note, 'H')).toMatchObject({ ok: false });
  expect(read(sendAs('control', null), '21')).toEqual({ ok: true, value: { number: 21 } });
  expect(read(sendAs('control', null), 'x')).toMatchObject({ ok: false });
  expect(read(sendAs('slot', null), '512')).toEqual({ ok: true, value: { slot: 512 } });
  expect(read(sendAs('slot', null), '513')).toMatchObject({ ok: false });
  expect(read(sendAs('key', null), 'F4')).toEqual({ ok: true, value: { code: 'F4' } });
  expect(read(sendAs('key', null), 'Foo')).toEqual({
    ok: false,
    reason: '“Foo” is not a key. Write its code, like KeyG, or what is printed on it.',
  });
  expect(read(sendAs('osc', null), '/x')).toEqual({ ok: true, value: { address: '/x' } });
  expect(read(sendAs('sysex', null), '7D')).toEqual({ ok: true, value: { template: '7D' } });
  expect(read(sendAs('showControl', null), '9')).toEqual({ ok: true, value: { cue: '9' } });
});

test('a new one of each kind can be kept, and keeps the line, delay, channel and number of another', () => {
  const from = makeSend({
    kind: 'parameter',
    lineId: 'l',
    delayMs: 40,
    channel: 5,
    registered: true,
    number: 300,
  });
  for (const kind of SEND_KINDS) {
    const made = sendAs(kind, 'l', from);
    expect(sendSchema.parse(made)).toEqual(made);
    expect([made.kind, made.delayMs, made.lineId]).toEqual([
      kind,
      40,
      SENDS[kind].protocol === null ? null : 'l',
    ]);
    if ('channel' in made) expect(made.channel).toBe(5);
    if ('number' in made) expect(made.number).toBe(kind === 'control14' ? 31 : 127);
    expect(rangeOf(made)).toEqual(SENDS[kind].out);
  }
  expect(sendAs('note', null)).toMatchObject({ channel: 0, number: 60, delayMs: 0, lineId: null });
  expect(sendAs('showControl', 'l')).toMatchObject({ device: 127, format: 1, command: 'go', cue: '1' });
});

describe('places', () => {
  test.each<[Send, string | null, string[]]>([
    [makeSend({ kind: 'note', lineId: 'l', channel: 2, number: 60 }), 'note 2 60', []],
    [makeSend({ kind: 'control', lineId: 'l', channel: 2, number: 7 }), 'control 2 7', ['l control 2 7']],
    [
      makeSend({ kind: 'control14', lineId: 'l', channel: 2, number: 7 }),
      'control14 2 7',
      ['l control14 2 7'],
    ],
    [makeSend({ kind: 'osc', lineId: 'l', address: '/a', args: [] }), 'osc /a', ['l osc /a']],
    [makeSend({ kind: 'osc', lineId: 'l', address: '/{1}', args: [] }), null, []],
    [makeSend({ kind: 'slot', lineId: 'l', slot: 5 }), 'slot 5', ['l slot 5']],
    [makeSend({ kind: 'slot', lineId: 'l', slot: 5, fine: true }), 'slot 5', ['l slot 5', 'l slot 6']],
    [makeSend({ kind: 'key', lineId: 'l', code: 'F4' }), 'key F4', []],
    [makeSend({ kind: 'bend', lineId: 'l', channel: 2 }), null, ['l bend 2']],
    [makeSend({ kind: 'pressure', lineId: 'l', channel: 2 }), null, ['l pressure 2']],
    [makeSend({ kind: 'program', lineId: 'l', channel: 2 }), null, ['l program 2']],
    [
      makeSend({ kind: 'parameter', lineId: 'l', channel: 2, registered: true, number: 3 }),
      null,
      ['l parameter 2 true 3'],
    ],
    [makeSend({ kind: 'bank', lineId: null, bankId: 'b', act: 'on' }), null, ['null bank b']],
    [sendAs('sysex', 'l'), null, []],
    [sendAs('panic', null), null, []],
  ])('of %j', (send, place, left) => {
    expect(placeOf(send)).toBe(place);
    expect(targetOf(send)).toBe(place && `l ${place}`);
    expect(leavesBehind(send)).toEqual(left);
  });

  test('that follow go on with the heard number, and end at the last', () => {
    const note = makeSend({ kind: 'note', lineId: 'l', channel: 0, number: 126, follows: true });
    expect(movedOn(note, 2)).toMatchObject({ channel: 1, number: 0, follows: false });
    expect(movedOn({ ...note, channel: 15 }, 2)).toBeNull();
    const control = makeSend({ kind: 'control', lineId: 'l', channel: 0, number: 126, follows: true });
    expect(movedOn(control, 1)).toMatchObject({ channel: 0, number: 127, follows: false });
    expect(movedOn({ ...control, channel: 15 }, 2)).toBeNull();
    const slot = makeSend({ kind: 'slot', lineId: 'l', slot: 510, follows: true });
    expect(movedOn(slot, 2)).toMatchObject({ slot: 512, follows: false });
    expect(movedOn(slot, 3)).toBeNull();
    expect(movedOn({ ...slot, fine: true }, 1)).toMatchObject({ slot: 512 });
    expect(movedOn({ ...slot, fine: true }, 2)).toBeNull();
    const bend = sendAs('bend', 'l');
    expect(movedOn(bend, 3)).toBe(bend);
    expect([followsNumber(note), followsNumber({ ...note, follows: false }), followsNumber(bend)]).toEqual([
      true,
      false,
      false,
    ]);
  });
});
