/** What a mapping reads of a signal. */
import { describe, expect, test } from '@jest/globals';
import type { OscArgument, Signal } from '../signal.js';
import { HEARS, makeHear } from '../hears.js';
import { byHand, type Heard } from '../mapping/heard.js';

/** What is read, or why it is not taken. */
function read(
  hear: Parameters<typeof makeHear>[0],
  signal: Signal,
  texts: [string, number][] = [],
): Heard | string {
  const made = makeHear(hear);
  const into: Heard = { ...byHand(-9, -9), channel: -9, parts: ['old'] };
  return HEARS[made.message].reader(made, texts)(signal, into) ?? into;
}
const of = { lineId: 'l', channels: 'any', numbers: 'any' } as const;
const note = (kind: 'noteOn' | 'noteOff', value: number): Signal => ({ kind, channel: 9, number: 36, value });

describe('a MIDI message', () => {
  test('has its value, number and channel', () => {
    expect(read({ ...of, message: 'pressed', values: 'any' }, note('noteOn', 90))).toEqual({
      value: 90,
      number: 36,
      channel: 9,
      parts: [],
    });
  });

  test('is taken within the values that are wanted; a release of what is held always', () => {
    const within = { ...of, values: [80, 100] as [number, number] };
    const values = [79, 80, 100, 101].map(
      (value) => typeof read({ ...within, message: 'pressed' }, note('noteOn', value)),
    );
    expect(values).toEqual(['string', 'object', 'object', 'string']);
    expect(read({ ...within, message: 'pressed' }, note('noteOn', 79))).toBe('value');
    expect(read({ ...within, message: 'held' }, note('noteOff', 0))).toMatchObject({ value: 0 });
    expect(read({ ...within, message: 'held' }, note('noteOn', 1))).toBe('value');
    expect(read({ ...within, message: 'released' }, note('noteOff', 0))).toBe('value');
  });

  test('is nothing else', () => {
    expect(
      read({ ...of, message: 'pressed', values: 'any' }, { kind: 'sysex', bytes: new Uint8Array() }),
    ).toBe('value');
  });
});

describe('a slot and a key', () => {
  test('have their level and number, or just that they are down', () => {
    const slot: Signal = { kind: 'slot', slot: 7, level: 200 };
    expect(read({ message: 'slot', lineId: 'l', slots: 'any', values: 'any' }, slot)).toEqual({
      value: 200,
      number: 7,
      channel: 0,
      parts: [],
    });
    expect(read({ message: 'slot', lineId: 'l', slots: 'any', values: [1, 199] }, slot)).toBe('value');
    const key: Signal = { kind: 'key', code: 'KeyG', down: true };
    expect(read({ message: 'keyPressed', lineId: 'l', code: 'KeyG' }, key)).toEqual(byHand(1, 0));
  });
});

describe('an OSC message', () => {
  const osc = (args: OscArgument[], address = '/a'): Signal => ({ kind: 'osc', address, args });
  const hear = (argument = 0, address = '/a') => ({
    message: 'osc' as const,
    lineId: 'l',
    address,
    argument,
  });
  const valueOf = (args: OscArgument[], argument = 0, texts: [string, number][] = []): unknown => {
    const got = read(hear(argument), osc(args), texts);
    return typeof got === 'string' ? got : got.value;
  };

  test('has its first number; true that says only that it came is passed over', () => {
    expect(valueOf([{ type: 'f', value: 0.5 }])).toBe(0.5);
    expect(valueOf([{ type: 'i', value: 5 }])).toBe(5);
    expect(valueOf([{ type: 'd', value: 0.25 }])).toBe(0.25);
    expect(valueOf([{ type: 'h', value: 9n }])).toBe(9);
    expect(valueOf([{ type: 'T' }, { type: 'f', value: 0.5 }])).toBe(0.5);
    expect(valueOf([{ type: 'F' }, { type: 'f', value: 0.5 }])).toBe(0);
    expect(valueOf([{ type: 'N' }, { type: 's', value: 'x' }, { type: 'i', value: 3 }])).toBe(3);
    expect([valueOf([]), valueOf([{ type: 'T' }]), valueOf([{ type: 's', value: 'x' }])]).toEqual([1, 1, 1]);
  });

  test('has the argument that is asked for, counted from 1; 1 where it is no number', () => {
    const args: OscArgument[] = [
      { type: 'f', value: 0.5 },
      { type: 'T' },
      { type: 'F' },
      { type: 's', value: 'x' },
      { type: 'i', value: 7 },
    ];
    expect([1, 2, 3, 4, 5, 6].map((argument) => valueOf(args, argument))).toEqual([0.5, 1, 0, 1, 7, 1]);
  });

  test('has the number that its table gives for a text; a text that is not in the table is ignored', () => {
    const texts: [string, number][] = [
      ['storm', 1],
      ['calm', 0.2],
    ];
    expect(valueOf([{ type: 's', value: 'calm' }], 0, texts)).toBe(0.2);
    expect(valueOf([{ type: 's', value: 'fog' }], 0, texts)).toBe('noText');
    expect(
      valueOf(
        [
          { type: 'f', value: 3 },
          { type: 's', value: 'storm' },
        ],
        2,
        texts,
      ),
    ).toBe(1);
  });

  test('has what stands in the open parts, and the first whole number of them', () => {
    const got = read(hear(0, '/deck/*/clip/*'), osc([{ type: 'f', value: 1 }], '/deck/left/clip/12'));
    expect(got).toEqual({ value: 1, number: 12, channel: 0, parts: ['left', '12'] });
    expect(read(hear(0, '/deck/*'), osc([], '/deck/x1'))).toMatchObject({ number: 0, parts: ['x1'] });
    expect(read(hear(0, '/deck/*'), osc([], '/deck/1234567890'))).toMatchObject({ number: 0 });
    expect(read(hear(0, '/deck/*'), osc([], '/deck/123456789'))).toMatchObject({ number: 123_456_789 });
    expect(read(hear(), osc([]))).toMatchObject({ number: 0, parts: [] });
    expect(read(hear(), note('noteOn', 1))).toBe('value');
  });
});

describe('system-exclusive', () => {
  const sysex = (...bytes: number[]): Signal => ({
    kind: 'sysex',
    bytes: Uint8Array.from([0xf0, ...bytes, 0xf7]),
  });

  test('has the value in its places', () => {
    const hear = { message: 'sysex' as const, lineId: 'l', template: '7D vv' };
    expect(read(hear, sysex(0x7d, 99))).toEqual(byHand(99, 0));
    expect(read(hear, sysex(0x7e, 99))).toBe('value');
    expect(read(hear, note('noteOn', 1))).toBe('value');
  });

  // MIDI show control 1.0 (from memory): devices 0–111, groups 112–126, 127 for all.
  test('of show control is taken with its command, cue, list and device', () => {
    const go = (device: number, ...rest: number[]): Signal => sysex(0x7f, device, 2, 1, 1, ...rest);
    const four = [0x34, 0x2e, 0x35, 0, 0x32];
    const hear = (more: object = {}) => ({
      message: 'showControl' as const,
      lineId: 'l',
      device: null,
      command: 'go' as const,
      cue: '',
      list: '',
      ...more,
    });
    expect(read(hear(), go(5, ...four))).toEqual(byHand(1, 4));
    expect(read(hear(), go(5))).toEqual(byHand(1, 0));
    expect(read(hear({ cue: '4.5' }), go(5, ...four))).toEqual(byHand(1, 4));
    expect(read(hear({ cue: '4' }), go(5, ...four))).toBe('value');
    expect(read(hear({ list: '2' }), go(5, ...four))).toEqual(byHand(1, 4));
    expect(read(hear({ list: '3' }), go(5, ...four))).toBe('value');
    expect(read(hear({ command: 'stop' }), go(5, ...four))).toBe('value');
    expect(read(hear({ device: 5 }), go(5))).toEqual(byHand(1, 0));
    expect(read(hear({ device: 5 }), go(127))).toEqual(byHand(1, 0));
    expect(read(hear({ device: 5 }), go(6))).toBe('device');
    expect(read(hear(), sysex(0x7d, 1))).toBe('value');
    expect(read(hear(), note('noteOn', 1))).toBe('value');
  });
});
