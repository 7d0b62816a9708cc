/** Recorded examples: what controllers send when one of their controls is touched. Common practice. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createMidiParser } from '../midi/parser.js';
import { encodeShowControl } from '../midi/show-control.js';
import { byHand } from '../mapping/heard.js';
import { createShaper, stepsOf } from '../mapping/shape.js';
import { hearSchema } from '../hears.js';
import { makeShape } from '../show/shape.js';
import type { Signal } from '../signal.js';
import { gather, type LearnControl, type Touch } from './gather.js';

/** The bytes of a recording, as a controller sent them. */
function recorded(...bytes: number[]): Touch[] {
  const touches: Touch[] = [];
  const parser = createMidiParser({
    message: (signal) => touches.push({ lineId: 'pads', signal: structuredClone(signal) }),
    bad: (reason) => {
      throw new Error(reason);
    },
  });
  parser.feed(Uint8Array.from(bytes));
  return touches;
}
const of = (...bytes: number[]): LearnControl[] => gather(recorded(...bytes), 4);
const words = (...bytes: number[]): string[] =>
  of(...bytes).map(
    (control) => `${control.words}: ${control.options.map((option) => option.words).join(' · ')}`,
  );
const likely = (...bytes: number[]): unknown => of(...bytes)[0]?.options[0];

describe('a control that is touched is gathered into one candidate', () => {
  test('a pad with pressure: the press, never the pressure or the release', () => {
    const pad = [0x99, 40, 11, 0xa9, 40, 20, 40, 60, 40, 31, 0x89, 40, 64, 0x99, 40, 118, 0x89, 40, 0];
    expect(words(...pad)).toEqual([
      'note 40 (E2) ch 10: pressed (force 11 to 118) · held: down and up · released · pressure (20 to 60)',
    ]);
    expect(likely(...pad)).toMatchObject({
      hear: { message: 'pressed', channels: [9, 9], numbers: [40, 40], values: 'any' },
    });
  });

  test('a pad whose pressure is its channel’s', () => {
    expect(words(0x99, 40, 90, 0xd9, 30, 50, 0x89, 40, 0)).toEqual([
      'note 40 (E2) ch 10: pressed (force 90) · held: down and up · released · pressure (30 to 50)',
    ]);
  });

  test('a press with velocity 0 as its release', () => {
    expect(words(0x90, 60, 100, 0x90, 60, 0)).toEqual([
      'note 60 (C4) ch 1: pressed (force 100) · held: down and up · released',
    ]);
  });

  test('a button sends 0 and 127 and nothing between', () => {
    expect(words(0xb0, 20, 127, 20, 0)).toEqual([
      'CC 20 ch 1: pressed: a button · down and up: a button · toggles with each press',
    ]);
    expect(likely(0xb0, 20, 127, 20, 0)).toMatchObject({ hear: { values: [1, 127] } });
  });

  test('a fader moves', () => {
    expect(words(0xb1, 21, 3, 21, 5, 21, 9, 21, 14, 21, 30)).toEqual(['CC 21 ch 2: moves (3 to 30)']);
  });

  test('a fader of fourteen bits is one control, and not its fine part', () => {
    expect(words(0xb0, 7, 64, 39, 12, 7, 64, 39, 80, 7, 65, 39, 1)).toEqual([
      'CC 7 ch 1: moves, with its fine part: 14-bit · moves (64 to 65)',
    ]);
  });

  test('a parameter is its data entry, and not the controllers that choose it', () => {
    expect(words(0xb0, 99, 1, 98, 8, 6, 70, 38, 0, 99, 1, 98, 8, 6, 71, 38, 0)).toEqual([
      'CC 6 ch 1: moves: NRPN 136 · moves (70 to 71)',
    ]);
  });

  test.each<[string, number[], string]>([
    ['two’s complement', [1, 1, 1, 2, 127, 127, 127], '1 up, 127 down'],
    ['offset by 64', [65, 65, 65, 63, 63, 63], '65 up, 63 down'],
    ['sign and size', [1, 1, 1, 65, 65, 65], '1 up, 65 down'],
  ])('a dial without ends, its steps in %s', (_, values, coding) => {
    expect(words(0xb0, ...values.flatMap((value) => [16, value]))[0]).toContain(
      `turns, a dial without ends (${coding})`,
    );
  });

  test('a bend fader, a program, and two pads', () => {
    expect(words(0xe2, 0, 64, 0xe2, 1, 70)).toEqual(['pitch bend ch 3: moves (8192 to 8961)']);
    expect(words(0xc0, 5)).toEqual(['program ch 1: program 5']);
    expect(words(0x99, 36, 1, 0x99, 37, 2)).toHaveLength(2);
  });

  test('OSC with several arguments, a slot and a key', () => {
    const signals: Signal[] = [
      {
        kind: 'osc',
        address: '/pad/3',
        args: [
          { type: 's', value: 'down' },
          { type: 'f', value: 1 },
        ],
      },
      { kind: 'slot', slot: 12, level: 3 },
      { kind: 'slot', slot: 12, level: 9 },
      { kind: 'key', code: 'F4', down: true },
      { kind: 'key', code: 'F4', down: false },
    ];
    const found = gather(
      signals.map((signal) => ({ lineId: 'l', signal })),
      4,
    );
    expect(
      found.map((control) => `${control.words}: ${control.options.map((one) => one.words).join(' · ')}`),
    ).toEqual([
      '/pad/3: comes · argument 1: text “down” · argument 2 (1)',
      'slot 12: changes',
      'key F4: pressed · held: down and up',
    ]);
  });

  test('system-exclusive: what differs is the value', () => {
    const of = (...messages: number[][]): LearnControl[] =>
      gather(
        messages.map((bytes) => ({
          lineId: 'pads',
          signal: { kind: 'sysex', bytes: Uint8Array.from(bytes) },
        })),
        4,
      );
    expect(of([0xf0, 0x7d, 1, 5, 9, 0xf7], [0xf0, 0x7d, 1, 5, 40, 0xf7])[0]!.options[0]).toMatchObject({
      hear: { message: 'sysex', template: 'F0 7D 01 05 vv F7' },
      shape: { in: [0, 127] },
    });
    const wide = of([0xf0, 0x7d, 1, 5, 9, 9, 0xf7], [0xf0, 0x7d, 1, 5, 40, 3, 0xf7]);
    expect(wide[0]!.options[0]!.hear).toMatchObject({ template: 'F0 7D 01 05 hh ll F7' });
  });

  test('show control: the cue that was called, or any', () => {
    const bytes = encodeShowControl({ device: 5, format: 0x10, command: 1, cue: '4.5', list: '' });
    const [control] = gather([{ lineId: 'pads', signal: { kind: 'sysex', bytes } }], 4);
    expect(control!.options.map(({ words: said }) => said)).toEqual([
      'go cue 4.5',
      'go, any cue',
      'these bytes',
    ]);
    expect(control!.options[0]!.hear).toMatchObject({
      message: 'showControl',
      command: 'go',
      cue: '4.5',
      device: null,
    });
  });

  test('clock, and the release of what was down before, are no touch', () => {
    expect(words(0xf8, 0xf8, 0x89, 40, 0, 0xa9, 41, 30, 0xfe)).toEqual([]);
  });
});

test('whatever is sent, each way of hearing it that is offered is one that can be kept', () => {
  const messages = fc.array(fc.tuple(fc.integer({ min: 0x80, max: 0xef }), fc.nat(127), fc.nat(127)), {
    maxLength: 40,
  });
  fc.assert(
    fc.property(messages, (list) => {
      const bytes = list.flatMap(([status, one, two]) =>
        (status & 0xe0) === 0xc0 ? [status, one] : [status, one, two],
      );
      for (const { options } of of(...bytes)) {
        expect(options.length).toBeGreaterThan(0);
        for (const { hear } of options) expect(hearSchema.safeParse(hear).success).toBe(true);
      }
    }),
  );
});

describe('a dial', () => {
  test.each<['two' | 'offset' | 'sign', number, number]>([
    ['two', 1, 1],
    ['two', 127, -1],
    ['two', 126, -2],
    ['offset', 65, 1],
    ['offset', 61, -3],
    ['sign', 3, 3],
    ['sign', 66, -2],
  ])('coded by %s says %i for %i steps', (coding, value, steps) =>
    expect(stepsOf(coding, value)).toBe(steps),
  );

  test('adds its steps up, and stays within its ends', () => {
    const shaper = createShaper(
      makeShape({ from: 'value', in: [0, 127], out: [0, 127], curve: 'straight', each: 'dial' }),
      1,
    );
    const take = (...values: number[]): (number | null)[] =>
      values.map((value) => shaper.take(value, byHand(value, 0), 0));
    expect(take(127, 5, 5, 126)).toEqual([0, 5, 10, 8]);
    for (let i = 0; i < 200; i++) shaper.take(1, byHand(1, 0), 0);
    expect(take(1, 127)).toEqual([127, 126]);
  });
});
