/** Every message that is heard: its words, its column, and what it says that it missed. What MIDI has is MIDI 1.0 (from memory). */
import { describe, expect, test } from '@jest/globals';
import { HEAR_MESSAGES, HEARS, hearDetail, hearSchema, hearTitle, makeHear, type Hear } from '../hears.js';
import { migrateRow } from '../show/migrate.js';
import type { Signal } from '../signal.js';
import { channelsOf, firstOf, numbersOf, slotsOf, wantsValue } from './parts.js';

type Given = Parameters<typeof makeHear>[0];
const any = { lineId: 'l', channels: 'any', numbers: 'any', values: 'any' } as const;
const one = {
  lineId: 'l',
  channels: [9, 9] as [number, number],
  numbers: [36, 36] as [number, number],
  values: [97, 97] as [number, number],
};
const some = { ...one, numbers: [36, 38] as [number, number], values: [1, 127] as [number, number] };

/** One hear: title, details, and its column. */
const WORDS: [Given, string, string, string][] = [
  [{ ...any, message: 'pressed' }, 'Any note pressed', 'any channel', 'any'],
  [{ ...one, message: 'pressed' }, 'Note 36 pressed', 'note 36 (C2) · ch 10 · force 97', '36'],
  [{ ...some, message: 'held' }, 'Note 36–38 held', 'notes C2–D2 · ch 10 · force 1–127', '36-38'],
  [{ ...any, message: 'held' }, 'Any note held', 'any channel', 'any'],
  [{ ...any, message: 'released' }, 'Any note released', 'any channel', 'any'],
  [{ ...one, message: 'released' }, 'Note 36 released', 'note 36 (C2) · ch 10 · force 97', '36'],
  [{ ...any, message: 'control' }, 'Any controller moves', 'any channel', 'any'],
  [{ ...some, message: 'control' }, 'CC 36–38 moves', 'CC 36–38 · ch 10 · value 1–127', '36-38'],
  [{ ...any, message: 'notePressure' }, 'Pressure on any note', 'any channel', 'any'],
  [{ ...one, message: 'notePressure' }, 'Pressure on note 36', 'note 36 (C2) · ch 10 · value 97', '36'],
  [
    { message: 'program', lineId: 'l', channels: { of: [0, 2] }, numbers: [3, 3] },
    'Program 3',
    'program 3 · ch 1, 3',
    '3',
  ],
  [{ message: 'program', lineId: 'l', channels: 'any', numbers: 'any' }, 'Any program', 'any channel', 'any'],
  [
    { message: 'pressure', lineId: 'l', channels: [0, 3], values: [5, 5] },
    'Pressure',
    'ch 1–4 · value 5',
    '',
  ],
  [{ message: 'bend', lineId: 'l', channels: 'any', values: 'any' }, 'Pitch bend', 'any channel', ''],
  [{ ...any, message: 'control14' }, 'Any 14-bit controller moves', 'any channel', 'any'],
  [{ ...any, message: 'control14', numbers: [7, 7] }, 'CC 7 moves, 14-bit', 'CC 7 · any channel', '7'],
  [
    { message: 'parameter', lineId: 'l', channels: [0, 0], registered: true, parameter: 5, values: [1, 2] },
    'RPN 5 moves',
    'ch 1 · value 1–2',
    '5',
  ],
  [
    { message: 'parameter', lineId: 'l', channels: [0, 0], registered: false, parameter: 5, values: 'any' },
    'NRPN 5 moves',
    'ch 1',
    '5',
  ],
  [{ message: 'sysex', lineId: 'l', template: '7D vv' }, 'System-exclusive', '7D vv', '7D vv'],
  [
    { message: 'showControl', lineId: 'l', device: null, command: 'go', cue: '4', list: '' },
    'Show control: go cue 4',
    'any device',
    '4',
  ],
  [
    { message: 'showControl', lineId: 'l', device: 5, command: 'allOff', cue: '', list: '2' },
    'Show control: all off',
    'list 2 · as device 5',
    '',
  ],
  [{ message: 'osc', lineId: 'l', address: '/fog' }, '/fog', 'first number', '/fog'],
  [{ message: 'osc', lineId: 'l', address: '/fog', argument: 2 }, '/fog', 'argument 2', '/fog'],
  [{ message: 'slot', lineId: 'l', slots: 'any', values: 'any' }, 'Any slot changes', 'any level', 'any'],
  [{ message: 'slot', lineId: 'l', slots: [5, 7], values: [1, 9] }, 'Slot 5–7 changes', 'level 1–9', '5-7'],
  [{ message: 'keyPressed', lineId: 'l', code: 'KeyG' }, 'Key G pressed', 'KeyG', 'KeyG'],
  [{ message: 'keyHeld', lineId: 'l', code: 'KeyG' }, 'Key G held', 'KeyG', 'KeyG'],
];

describe('words', () => {
  test.each(WORDS)('of %j', (given, title, detail, column) => {
    const hear = makeHear(given);
    expect(hearTitle(hear)).toBe(title);
    expect(hearDetail(hear, 4)).toBe(detail);
    const { column: of } = HEARS[hear.message];
    expect(of?.write(hear) ?? '').toBe(column);
    if (of && column !== '') expect({ ...hear, ...readOk(hear, column) }).toEqual(hear);
  });
  test('are there for every message', () => {
    expect(new Set(WORDS.map(([{ message }]) => message))).toEqual(new Set(HEAR_MESSAGES));
  });
});

const readOf = (hear: Hear, text: string): unknown => HEARS[hear.message].column!.read(text, 4);
function readOk(hear: Hear, text: string): object {
  const read = HEARS[hear.message].column!.read(text, 4);
  if (!read.ok) throw new Error(read.reason);
  return read.value;
}

test('a column is read as people write it; one that can’t be read is refused with a reason', () => {
  const hear = (given: Given): Hear => makeHear(given);
  expect(readOf(hear({ ...any, message: 'pressed' }), 'C2-D2')).toEqual({
    ok: true,
    value: { numbers: [36, 38] },
  });
  expect(readOf(hear({ ...any, message: 'control' }), 'C2')).toMatchObject({ ok: false });
  expect(readOf(hear({ ...any, message: 'control14' }), 'x')).toMatchObject({ ok: false });
  expect(readOf(hear({ message: 'slot', lineId: 'l', slots: 'any', values: 'any' }), '513')).toMatchObject({
    ok: false,
  });
  expect(readOf(makeHear(WORDS[16]![0]), '16384')).toMatchObject({ ok: false });
  expect(readOf(hear({ message: 'keyHeld', lineId: 'l', code: 'KeyG' }), 'Foo')).toEqual({
    ok: false,
    reason: '“Foo” is not a key. Write its code, like KeyG, or what is printed on it.',
  });
});

describe('what is wanted', () => {
  test('is all of what a hear has not', () => {
    const bend = makeHear({ message: 'bend', lineId: 'l', channels: [2, 3], values: 'any' });
    expect([numbersOf(bend), channelsOf(bend), firstOf(bend), wantsValue(bend, 5)]).toEqual([
      [0, 0],
      [2, 3],
      0,
      true,
    ]);
    const osc = makeHear({ message: 'osc', lineId: 'l', address: '/a' });
    expect([channelsOf(osc).length, slotsOf(osc), firstOf(osc)]).toEqual([16, [1, 512], 0]);
    const slot = makeHear({ message: 'slot', lineId: 'l', slots: [5, 7], values: [1, 9] });
    expect([slotsOf(slot), firstOf(slot)]).toEqual([[5, 7], 5]);
    expect([0, 1, 9, 10].map((value) => wantsValue(slot, value))).toEqual([false, true, true, false]);
    expect(firstOf(makeHear({ ...some, message: 'pressed' }))).toBe(36);
    expect(channelsOf(makeHear({ ...any, message: 'pressed', channels: { of: [1, 5] } }))).toEqual([1, 5]);
  });
});

describe('what is missed', () => {
  const note = (number: number, value = 97, channel = 9): Signal => ({
    kind: 'noteOn',
    channel,
    number,
    value,
  });
  const cc = (number: number, channel = 9): Signal => ({ kind: 'controlChange', channel, number, value: 1 });
  const sysex = (...bytes: number[]): Signal => ({
    kind: 'sysex',
    bytes: Uint8Array.from([0xf0, ...bytes, 0xf7]),
  });
  const key = (code: 'KeyG' | 'KeyH', down = true): Signal => ({ kind: 'key', code, down });
  const go = (device: number, ...rest: number[]): Signal => sysex(0x7f, device, 2, 1, 1, ...rest);
  const show = (more: object = {}): Given => ({
    message: 'showControl',
    lineId: 'l',
    device: null,
    command: 'go',
    cue: '',
    list: '',
    ...more,
  });
  const parameter = WORDS[16]![0];
  const OTHERS: [Signal, string][] = [
    [{ kind: 'osc', address: '/a', args: [] }, 'OSC'],
    [{ kind: 'slot', slot: 1, level: 1 }, 'a DMX slot'],
    [key('KeyG'), 'a key going down'],
    [key('KeyG', false), 'a key coming up'],
    [sysex(0x7e), 'system-exclusive'],
    [{ kind: 'system', status: 0xf8, data1: 0, data2: 0 }, 'clock or another system message'],
  ];

  test.each<[Given, Signal, string[]]>([
    [{ ...one, message: 'pressed' }, note(36), []],
    [{ ...one, message: 'pressed' }, note(36, 90), ['wanted force exactly 97, got 90']],
    [{ ...some, message: 'pressed', values: [50, 60] }, note(37, 90), ['wanted force 50–60, got 90']],
    [
      { ...one, message: 'pressed' },
      note(48),
      ['wanted note 36 (C2), got 48 (C3): is middle C named differently there?'],
    ],
    [{ ...one, message: 'pressed' }, note(37), ['wanted note 36 (C2), got 37 (C#2)']],
    [{ ...some, message: 'pressed' }, note(48), ['wanted note 36 (C2) to 38 (D2), got 48 (C3)']],
    [
      { ...one, message: 'pressed' },
      note(36, 97, 8),
      ['wanted channel 10, got 9: are channels counted from 0 there?'],
    ],
    [{ ...one, message: 'pressed' }, note(36, 97, 7), ['wanted channel 10, got 8']],
    [
      { ...one, message: 'control', numbers: [21, 21], values: 'any' },
      cc(33),
      ['wanted controller 21, got 33'],
    ],
    [{ ...one, message: 'control', values: 'any' }, note(36), ['wanted a control change, got a press']],
    [{ ...one, message: 'held' }, { kind: 'noteOff', channel: 9, number: 36, value: 0 }, []],
    [
      { ...one, message: 'pressed' },
      { kind: 'noteOff', channel: 9, number: 36, value: 0 },
      ['wanted a press, got a release'],
    ],
    [
      { ...any, message: 'bend' },
      { kind: 'channelPressure', channel: 0, number: 0, value: 1 },
      ['wanted pitch bend, got channel pressure'],
    ],
    [{ ...any, message: 'control14', numbers: [7, 7] }, cc(7), []],
    [{ ...any, message: 'control14', numbers: [7, 7] }, cc(39), []],
    [{ ...any, message: 'control14', numbers: [7, 7] }, cc(40), ['wanted controller 7, got 8']],
    [{ ...any, message: 'control14' }, cc(63), []],
    [{ ...any, message: 'control14' }, cc(64), ['wanted a 14-bit control change, got a control change']],
    [{ ...any, message: 'control14' }, note(7), ['wanted a 14-bit control change, got a press']],
    [parameter, cc(6, 0), []],
    [parameter, cc(101, 1), ['wanted channel 1, got 2: are channels counted from 0 there?']],
    [parameter, cc(7, 0), ['wanted a parameter (RPN or NRPN), got a control change']],
    [parameter, note(6), ['wanted a parameter (RPN or NRPN), got a press']],
    [{ message: 'sysex', lineId: 'l', template: '7D vv' }, sysex(0x7d, 5), []],
    [
      { message: 'sysex', lineId: 'l', template: '7D vv' },
      sysex(0x7e, 5),
      ['wanted the bytes 7D vv, got others'],
    ],
    [
      { message: 'sysex', lineId: 'l', template: '7D vv' },
      note(1),
      ['wanted other system-exclusive, got a press'],
    ],
    [show(), go(5, 0x34), []],
    [show({ cue: '4' }), go(5, 0x34), []],
    [show({ cue: '4' }), go(5, 0x35), ['wanted cue 4, got 5']],
    [show({ cue: '4' }), go(5), ['wanted cue 4, got none']],
    [show({ list: '2' }), go(5, 0x34, 0, 0x32), []],
    [show({ list: '2' }), go(5, 0x34, 0, 0x33), ['wanted list 2, got 3']],
    [show({ list: '2' }), go(5, 0x34), ['wanted list 2, got none']],
    [show({ device: 5 }), go(5), []],
    [show({ device: 5 }), go(127), []],
    [show({ device: 5 }), go(6), ['wanted device 5, got 6']],
    [show({ command: 'stop' }), go(5), ['wanted stop, got go']],
    [show(), sysex(0x7f, 5, 2, 1, 0x1f), ['wanted go, got command 31']],
    [show(), sysex(0x7d, 1), ['wanted show control, got system-exclusive']],
    [show(), note(1), ['wanted show control, got a press']],
    [{ message: 'osc', lineId: 'l', address: '/fog/*' }, { kind: 'osc', address: '/fog/1', args: [] }, []],
    [
      { message: 'osc', lineId: 'l', address: '/fog' },
      { kind: 'osc', address: '/sky', args: [] },
      ['wanted /fog, got /sky'],
    ],
    [
      { message: 'slot', lineId: 'l', slots: [5, 7], values: [1, 9] },
      { kind: 'slot', slot: 6, level: 9 },
      [],
    ],
    [
      { message: 'slot', lineId: 'l', slots: [5, 7], values: [1, 9] },
      { kind: 'slot', slot: 8, level: 10 },
      ['wanted slot 5–7, got 8', 'wanted a level of 1–9, got 10'],
    ],
    [
      { message: 'slot', lineId: 'l', slots: [5, 7], values: 'any' },
      { kind: 'slot', slot: 4, level: 10 },
      ['wanted slot 5–7, got 4'],
    ],
    [{ message: 'keyPressed', lineId: 'l', code: 'KeyG' }, key('KeyG'), []],
    [
      { message: 'keyPressed', lineId: 'l', code: 'KeyG' },
      key('KeyG', false),
      ['wanted a key going down, got a key coming up'],
    ],
    [{ message: 'keyPressed', lineId: 'l', code: 'KeyG' }, key('KeyH'), ['wanted the key G, got H']],
    [{ message: 'keyHeld', lineId: 'l', code: 'KeyG' }, key('KeyG', false), []],
  ])('by %j of %j is %j', (given, signal, missed) => {
    const hear = makeHear(given);
    const misses = HEARS[hear.message].misses(hear, signal, 4);
    expect(misses.map(({ words }) => words)).toEqual(missed);
    // What is offered instead would have taken it.
    for (const miss of misses)
      if (miss.hear && misses.length === 1)
        expect(HEARS[hear.message].misses({ ...hear, ...miss.hear } as Hear, signal, 4)).toEqual([]);
  });

  test.each(WORDS.map(([given]) => given))('by %j is another sort of message', (given) => {
    const hear = makeHear(given);
    const { misses, wanted, protocol } = HEARS[hear.message];
    for (const [signal, came] of OTHERS) {
      const own = { osc: 'osc', slot: 'dmx', key: 'keys' }[signal.kind as 'osc'] === protocol;
      if (own || (signal.kind === 'sysex' && hear.message === 'sysex')) continue;
      expect(misses(hear, signal, 4)).toEqual([{ words: `wanted ${wanted}, got ${came}`, hear: null }]);
    }
  });
});

describe('an address with one word in braces', () => {
  test('is refused with what to write, since it would match that word alone', () => {
    const read = hearSchema.safeParse({ message: 'osc', lineId: 'water', address: '/clip/{n}' });
    expect(read.error?.issues[0]?.message).toContain('To leave a part open, write *');
    expect(
      hearSchema.safeParse({ message: 'osc', lineId: 'water', address: '/deck/{port,starboard}' }).success,
    ).toBe(true);
  });

  test('of an earlier version opens that part', () => {
    const hear = { message: 'osc', lineId: 'water', address: '/clip/{n}/x' };
    expect(migrateRow('mappings', { hear })).toMatchObject({ hear: { address: '/clip/*/x' } });
    expect(migrateRow('moments', { callers: [hear] })).toMatchObject({ callers: [{ address: '/clip/*/x' }] });
  });
});
