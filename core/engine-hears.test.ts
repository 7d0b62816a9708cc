/** What a mapping can hear beside plain notes and controllers, and what it makes of the number that it heard. */
import { describe, expect, test } from '@jest/globals';
import {
  anyNote,
  control,
  loaded,
  made,
  PADS,
  press,
  release,
  RIG,
  said,
  until,
  WATER,
} from './engine.test-helper.js';
import { encodeShowControl } from './midi/show-control.js';
import { makeHear } from './hears.js';
import { makeSend, type Send } from './sends.js';
import type { OscArgument, Signal } from './signal.js';

const cc = (number: number): Send => makeSend({ kind: 'control', lineId: 'laser', channel: 0, number });
const wide = { in: [0, 16_383] as [number, number] };
const osc = (address: string, ...args: OscArgument[]): Signal => ({ kind: 'osc', address, args });
const sysex = (...bytes: number[]): Signal => ({ kind: 'sysex', bytes: Uint8Array.from(bytes) });

describe('hearing', () => {
  test('a fader of fourteen bits, as one', () => {
    const hear = makeHear({
      message: 'control14',
      lineId: 'pads',
      channels: 'any',
      numbers: [7, 7],
      values: 'any',
    });
    const engine = loaded([
      made({
        hear,
        sends: [makeSend({ kind: 'bend', lineId: 'laser', channel: 0 })],
        shape: { ...wide, out: [0, 16_383] },
      }),
    ]);
    engine.step(PADS, control(7, 100, 0), 0);
    // 100 × 128 + 5, said from the middle, 8192.
    expect(said(engine.step(PADS, control(39, 5, 0), 1))).toEqual(['pitch bend ch 1 = 4613']);
    expect(engine.step(PADS, control(7, 101, 0), 2).count).toBe(0);
    expect(said(engine.step(PADS, control(39, 0, 0), 3))).toEqual(['pitch bend ch 1 = 4736']);
    expect(engine.step(PADS, control(8, 5, 0), 4).count).toBe(0);
  });

  test('a parameter by its number, whatever else the same controllers set', () => {
    const hear = makeHear({
      message: 'parameter',
      lineId: 'pads',
      channels: 'any',
      registered: false,
      parameter: 136,
      values: 'any',
    });
    const engine = loaded([made({ hear, sends: [cc(1)], shape: wide })]);
    const set = (high: number, low: number, value: number): string[] =>
      [
        [99, high],
        [98, low],
        [6, value],
      ].flatMap(([number, to]) => said(engine.step(PADS, control(number!, to!, 4), 0)));
    expect(set(1, 8, 127)).toEqual(['CC 1 ch 1 = 126']);
    expect(set(1, 9, 127)).toEqual([]);
  });

  test('system-exclusive with its value, and not with a wrong checksum', () => {
    const hear = makeHear({ message: 'sysex', lineId: 'pads', template: 'F0 41 10 | 40 xx vv ck F7' });
    const engine = loaded([made({ hear, sends: [cc(1)] })]);
    const sum = (...bytes: number[]): number => (128 - (bytes.reduce((a, b) => a + b) & 127)) & 127;
    const good = sysex(0xf0, 0x41, 0x10, 0x40, 0x01, 0x33, sum(0x40, 0x01, 0x33), 0xf7);
    expect(said(engine.step(PADS, good, 0))).toEqual(['CC 1 ch 1 = 51']);
    expect(engine.step(PADS, sysex(0xf0, 0x41, 0x10, 0x40, 0x01, 0x33, 0x00, 0xf7), 1).count).toBe(0);
    expect(engine.step(PADS, sysex(0xf0, 0x42, 0x10, 0x40, 0x01, 0x33, 0x0c, 0xf7), 2).count).toBe(0);
    expect(engine.step(PADS, sysex(0xf0, 0x41, 0xf7), 3).count).toBe(0);
  });

  // MIDI show control 1.0 (RP-002, from memory): a receiver takes its own device and all-call 7F.
  test('show control for its own device and for all, by cue and list', () => {
    const hear = makeHear({
      message: 'showControl',
      lineId: 'pads',
      device: 5,
      command: 'go',
      cue: '4.5',
      list: '',
    });
    const engine = loaded([made({ hear, sends: [cc(1)], shape: { in: [0, 1] } })]);
    const go = (device: number, cue: string, command = 1): number =>
      engine.step(
        PADS,
        { kind: 'sysex', bytes: encodeShowControl({ device, format: 1, command, cue, list: '' }) },
        0,
      ).count;
    expect([go(5, '4.5'), go(127, '4.5'), go(6, '4.5'), go(5, '4'), go(5, '4.5', 2)]).toEqual([
      1, 1, 0, 0, 0,
    ]);
    expect(engine.trace().count).toBe(0);
    go(6, '4.5');
    expect(engine.trace().outcome.slice(0, 1)).toEqual(['device']);
  });

  test('several channels, and no other', () => {
    const engine = loaded([made({ hear: { channels: { of: [0, 4, 9] } }, sends: [cc(1)] })]);
    const heard = Array.from(
      { length: 16 },
      (_, channel) => engine.step(PADS, press(36, 90, channel), 0).count,
    );
    expect(heard.flatMap((count, channel) => (count > 0 ? [channel] : []))).toEqual([0, 4, 9]);
  });

  test('one argument of several, and a text by a table', () => {
    const second = makeHear({ message: 'osc', lineId: 'water', address: '/xy', argument: 2 });
    const named = makeHear({ message: 'osc', lineId: 'water', address: '/mode' });
    const engine = loaded([
      made({ id: 'y', hear: second, sends: [cc(1)], shape: { in: [0, 1] } }),
      made({
        id: 'mode',
        hear: named,
        sends: [cc(2)],
        shape: {
          in: [0, 2],
          out: [0, 100],
          texts: [
            ['low', 0],
            ['high', 2],
          ],
        },
      }),
    ]);
    const float = (value: number): OscArgument => ({ type: 'f', value });
    expect(said(engine.step(WATER, osc('/xy', float(0.1), float(1)), 0))).toEqual(['CC 1 ch 1 = 127']);
    expect(said(engine.step(WATER, osc('/mode', { type: 's', value: 'high' }), 1))).toEqual([
      'CC 2 ch 1 = 100',
    ]);
    expect(engine.step(WATER, osc('/mode', { type: 's', value: 'odd' }), 2).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('noText');
  });
});

describe('the heard number', () => {
  const held = anyNote('held');
  const pads = makeHear({
    message: 'held',
    lineId: 'pads',
    channels: 'any',
    numbers: [36, 47],
    values: 'any',
  });

  test('is carried on by what follows it, to the next channel past the 128th', () => {
    const engine = loaded([
      made({
        hear: pads,
        sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 120, follows: true })],
      }),
    ]);
    expect(said(engine.step(PADS, press(36, 90), 0))).toEqual(['note 120 (C9) ch 1 pressed, force 90']);
    expect(said(engine.step(PADS, press(44, 80), 1))).toEqual(['note 0 (C-1) ch 2 pressed, force 80']);
  });

  test('each is held for itself: one pad let go leaves the other sounding', () => {
    const engine = loaded([
      made({
        hear: pads,
        sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, follows: true })],
      }),
    ]);
    engine.step(PADS, press(36), 0);
    engine.step(PADS, press(38), 1);
    expect(said(engine.step(PADS, release(36), 2))).toEqual(['note 60 (C4) ch 1 released']);
    expect(said(engine.panic(3))).toEqual(['note 62 (D4) ch 1 released']);
  });

  test('toggles each by itself', () => {
    const engine = loaded([
      made({
        hear: { numbers: [36, 47] },
        sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 1, follows: true })],
        shape: { each: 'toggle' },
      }),
    ]);
    const play = (...numbers: number[]): string[] =>
      numbers.flatMap((number, at) => said(engine.step(PADS, press(number), at)));
    expect(play(36, 37, 36)).toEqual(['slot 1 = 255 (100 %)', 'slot 2 = 255 (100 %)', 'slot 1 = 0 (0 %)']);
  });

  test('of a slot goes to a note, 512 of them over four channels', () => {
    const hear = makeHear({ message: 'slot', lineId: 'rig', slots: [1, 512], values: 'any' });
    const engine = loaded([
      made({
        hear,
        sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 0, follows: true })],
        shape: { in: [0, 255] },
      }),
    ]);
    const slot = (number: number): string[] =>
      said(engine.step(RIG, { kind: 'slot', slot: number, level: 255 }, 0));
    expect([slot(1), slot(128), slot(129), slot(512)].flat()).toEqual([
      'note 0 (C-1) ch 1 pressed, force 127',
      'note 127 (G9) ch 1 pressed, force 127',
      'note 0 (C-1) ch 2 pressed, force 127',
      'note 127 (G9) ch 4 pressed, force 127',
    ]);
  });

  test('past the last place leads nowhere, and that is said', () => {
    const engine = loaded([
      made({ hear: held, sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 500, follows: true })] }),
    ]);
    expect(engine.step(PADS, press(100), 0).count).toBe(0);
    expect(said(engine.step(PADS, press(2), 1))).toEqual(['slot 502 = 201 (79 %)']);
  });

  test('and the open parts of an address go into the address that is sent', () => {
    const hear = makeHear({ message: 'osc', lineId: 'water', address: '/deck/*/clip*' });
    const send = makeSend({
      kind: 'osc',
      lineId: 'water',
      address: '/{1}/play/{2}',
      args: [
        { type: 's', value: 'clip {2}' },
        { type: 'i', value: 'number' },
      ],
    });
    const engine = loaded([made({ hear, sends: [send], shape: { in: [0, 1] } })]);
    expect(said(engine.step(WATER, osc('/deck/left/clip12', { type: 'f', value: 1 }), 0))).toEqual([
      '/left/play/12 “clip 12” 12',
    ]);
  });

  test('of a pad is in the address of a delayed message as it was then', () => {
    const send = makeSend({
      kind: 'osc',
      lineId: 'water',
      address: '/clip/{number-35}',
      args: [],
      delayMs: 100,
    });
    const engine = loaded([made({ hear: { numbers: [36, 47] }, sends: [send] })]);
    engine.step(PADS, press(36), 0);
    engine.step(PADS, press(40), 10);
    expect(until(engine, 500)).toEqual(['100: /clip/1', '110: /clip/5']);
  });
});

describe('a shape', () => {
  const shaped = (shape: Parameters<typeof made>[0]['shape'], ...values: number[]): string[] => {
    const engine = loaded([made({ hear: { message: 'control' }, sends: [cc(1)], shape: shape! })]);
    return values.flatMap((value, at) =>
      said(engine.step(PADS, control(21, value), at)).map((words) => words.split('= ')[1]!),
    );
  };

  test('by a formula, with what it made before', () => {
    expect(shaped({ curve: 'formula', formula: 'was + value' }, 10, 20, 5)).toEqual(['10', '30', '35']);
    expect(shaped({ curve: 'formula', formula: 'channel * 10 + number' }, 1)).toEqual(['41']);
    expect(shaped({ curve: 'formula', formula: '1 / value' }, 0)).toEqual([]);
  });

  test('moved by an offset and kept within limits', () => {
    expect(shaped({ offset: -20, limits: [10, 90] }, 0, 64, 127)).toEqual(['10', '44', '90']);
  });

  // Equal temperament, A4 = 440 Hz (ISO 16): note 69 is 440, note 60 is 261.6256.
  test('of a note to its frequency', () => {
    const send = makeSend({
      kind: 'osc',
      lineId: 'water',
      address: '/hz',
      args: [{ type: 'f', value: 'shaped' }],
    });
    const engine = loaded([made({ sends: [send], shape: { from: 'number', curve: 'frequency' } })]);
    const hz = (number: number): number =>
      Number(said(engine.step(PADS, press(number), 0))[0]!.split(' ')[1]);
    expect(hz(69)).toBe(440);
    expect(hz(60)).toBeCloseTo(261.6256, 4);
  });

  test('of a hue to red, green and blue, as slots and as arguments', () => {
    const part = (slot: number, of: 'red' | 'green' | 'blue'): Send =>
      makeSend({ kind: 'slot', lineId: 'rig', slot, part: of });
    const args = makeSend({
      kind: 'osc',
      lineId: 'water',
      address: '/rgb',
      args: [
        { type: 'f', value: 'red' },
        { type: 'i', value: 'green' },
        { type: 'f', value: 'blue' },
      ],
    });
    const engine = loaded([
      made({
        hear: { message: 'control' },
        sends: [part(1, 'red'), part(2, 'green'), part(3, 'blue'), args],
        shape: { out: [0, 360], colour: { of: 'hue', hue: 0, saturation: 100, brightness: 100 } },
      }),
    ]);
    expect(said(engine.step(PADS, control(21, 0), 0))).toEqual([
      'slot 1 = 255 (100 %)',
      'slot 2 = 0 (0 %)',
      'slot 3 = 0 (0 %)',
      '/rgb 1 0 0',
    ]);
    expect(said(engine.step(PADS, control(21, 127), 1))[0]).toBe('slot 1 = 255 (100 %)');
    // A third of the circle is green.
    expect(said(engine.step(PADS, control(21, 127 / 3), 2))).toEqual([
      'slot 1 = 0 (0 %)',
      'slot 2 = 255 (100 %)',
      'slot 3 = 0 (0 %)',
      '/rgb 0 255 0',
    ]);
  });
});
