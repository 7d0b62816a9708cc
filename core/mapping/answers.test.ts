/** What lamps and motor faders are told; common practice, of controllers that light a pad for a note and move a fader for a control change. */
import { describe, expect, test } from '@jest/globals';
import {
  anyNote,
  control,
  LASER,
  loaded,
  made,
  PADS,
  press,
  release,
  said,
  until,
  type Engine,
} from '../engine.test-helper.js';
import { makeSend, type Send } from '../sends.js';
import { answerSchema, type Answer } from '../show/answer.js';
import type { Mapping } from '../show/mapping.js';

const pad = (from: number, to = from, message: 'pressed' | 'held' = 'pressed'): Mapping['hear'] =>
  ({ ...anyNote(message), numbers: [from, to] }) as Mapping['hear'];
const cc = (number: number): Send => makeSend({ kind: 'control', lineId: 'laser', channel: 0, number });
const lampOf = (change: Partial<Answer> = {}): Answer =>
  answerSchema.parse({ lineId: 'pads', kind: 'note', channel: 9, number: 36, shows: 'value', ...change });
const fader = (number: number, sends: Send[], more: Partial<Answer> = {}, shape: object = {}): Mapping =>
  made({
    id: `fader ${number}`,
    hear: {
      ...anyNote(),
      message: 'control',
      channels: [1, 1],
      numbers: [number, number],
    } as Mapping['hear'],
    sends,
    shape: { out: [0, 255], ...shape },
    answer: lampOf({ kind: 'control', channel: 1, number, shows: 'position', ...more }),
  });
const slot = (number: number, more: object = {}): Send =>
  makeSend({ kind: 'slot', lineId: 'rig', slot: number, ...more });
const other = (send: Send, shape: object = {}): Mapping =>
  made({ id: 'other', hear: pad(40), sends: [send], shape });
/** What the controller is told when another mapping sends this. */
const toldFor = (engine: Engine, value: number, at = 0): string[] =>
  said(engine.step(PADS, press(40, value), at)).slice(1);

describe('a motor fader', () => {
  test('follows a slot, a controller and the first number of an address', () => {
    const osc = (value: 'f' | 'i' | 'd' = 'f'): Send =>
      makeSend({
        kind: 'osc',
        lineId: 'water',
        address: '/fog',
        args: [
          { type: 's', value: 'x' },
          { type: value, value: 'shaped' },
        ],
      });
    expect(toldFor(loaded([fader(21, [slot(7)]), other(slot(7))]), 127)).toEqual(['CC 21 ch 2 = 127']);
    expect(toldFor(loaded([fader(21, [slot(7)]), other(slot(8))]), 127)).toEqual([]);
    const toControl = loaded([fader(21, [cc(5)], {}, { out: [0, 127] }), other(cc(5))]);
    expect(toldFor(toControl, 64)).toEqual(['CC 21 ch 2 = 64']);
    for (const type of ['f', 'i', 'd'] as const) {
      const engine = loaded([fader(21, [osc()], {}, { out: [0, 100] }), other(osc(type), { out: [0, 100] })]);
      expect(toldFor(engine, 127)).toEqual(['CC 21 ch 2 = 127']);
    }
    const noNumber = makeSend({ kind: 'osc', lineId: 'water', address: '/fog', args: [{ type: 'T' }] });
    expect(toldFor(loaded([fader(21, [osc()]), other(noNumber)]), 127)).toEqual([]);
  });

  test('goes to the place that would send what is nearest', () => {
    const engine = loaded([
      fader(21, [slot(7)], {}, { in: [0, 127], out: [255, 0] }),
      other(slot(7), { out: [0, 255], in: [0, 127] }),
    ]);
    expect(toldFor(engine, 127)).toEqual(['CC 21 ch 2 = 0']);
    expect(toldFor(engine, 1, 1000)).toEqual(['CC 21 ch 2 = 126']);
    const half = loaded([
      fader(21, [{ ...slot(7), range: [0, 127] } as Send], {}, { out: [0, 1] }),
      other(slot(7), { out: [0, 255] }),
    ]);
    // The first send lays 0 to 1 over 0 to 127: 64 is half way.
    expect(toldFor(half, 32)).toEqual(['CC 21 ch 2 = 64']);
  });

  test('of a note, which is no place, is told nothing', () => {
    const note = makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5 });
    const engine = loaded([fader(21, [note], {}, { out: [0, 127] }), other(note)]);
    expect(toldFor(engine, 90)).toEqual([]);
    expect(said(engine.lineBack(PADS, 1))).toEqual([]);
  });

  test('is one of several that follow the same place; one that is taken out is told no more', () => {
    const engine = loaded([fader(21, [slot(7)]), fader(22, [slot(7)]), other(slot(7))]);
    expect(toldFor(engine, 127)).toEqual(['CC 21 ch 2 = 127', 'CC 22 ch 2 = 127']);
    engine.replace({ ...fader(21, [slot(7)]), on: false }, 0, 500);
    expect(toldFor(engine, 64, 1000)).toEqual(['CC 22 ch 2 = 64']);
    engine.replace({ ...fader(22, [slot(7)]), answer: null }, 1, 1500);
    expect(toldFor(engine, 10, 2000)).toEqual([]);
    engine.replace(fader(21, [slot(7)]), 0, 2500);
    expect(toldFor(engine, 127, 3000)).toEqual(['CC 21 ch 2 = 127']);
  });

  test('is where it was moved by hand, and is told again where others sent', () => {
    const engine = loaded([fader(21, [slot(7)]), other(slot(7))]);
    expect(said(engine.step(PADS, control(21, 60), 0))).toEqual(['slot 7 = 120 (47 %)']);
    // What it knows of itself is not sent to it.
    expect(toldFor(engine, 60, 1000)).toEqual([]);
    expect(toldFor(engine, 61, 2000)).toEqual(['CC 21 ch 2 = 61']);
    engine.step(PADS, control(21, 10), 3000);
    expect(said(engine.lineBack(PADS, 4000))).toEqual([]);
  });

  test.each([
    [300, 'echo'],
    [301, 'fired'],
  ])('that says back %i ms later where it was sent is %s', (after, outcome) => {
    const engine = loaded([fader(21, [slot(7)]), other(slot(7))]);
    toldFor(engine, 100, 1000);
    engine.step(PADS, control(21, 100), 1000 + after);
    expect(engine.trace().outcome[0]).toBe(outcome);
  });

  test('of a row of slots follows its own, and none past the last', () => {
    const row = made({
      id: 'row',
      hear: { ...anyNote(), message: 'control', channels: [1, 1], numbers: [20, 27] } as Mapping['hear'],
      sends: [slot(510, { follows: true })],
      shape: { out: [0, 255] },
      answer: lampOf({ kind: 'control', channel: 1, number: 20, shows: 'position' }),
    });
    const engine = loaded([row, other(slot(511))]);
    engine.step(PADS, control(21, 5), 0);
    engine.step(PADS, control(23, 5), 0);
    expect(toldFor(engine, 127, 1000)).toEqual(['CC 21 ch 2 = 127']);
  });
});

describe('a lamp', () => {
  const lamp = (change: Partial<Answer> = {}, more: object = {}): Mapping =>
    made({
      id: 'lamp',
      hear: pad(36),
      sends: [cc(1)],
      shape: { each: 'toggle' },
      answer: lampOf(change),
      ...more,
    });

  test.each<[string, number, Parameters<Engine['step']>[1], number, string]>([
    ['60 ms later', 60, press(36, 127), PADS, 'echo'],
    ['61 ms later', 61, press(36, 127), PADS, 'fired'],
    ['with another force', 10, press(36, 126), PADS, 'fired'],
    ['on another channel', 10, press(36, 127, 8), PADS, 'fired'],
    ['of another number', 10, press(37, 127), PADS, 'fired'],
  ])('what comes back of it %s', (_, after, signal, line, outcome) => {
    const engine = loaded([lamp({}, { hear: { ...anyNote(), numbers: [36, 37] } as Mapping['hear'] })]);
    engine.step(PADS, press(36, 90), 1000);
    engine.step(line, signal, 1000 + after);
    expect(engine.trace().outcome[0]).toBe(outcome);
  });

  test('is another control where its line is another, or its message is of another kind', () => {
    const elsewhere = loaded([lamp({ lineId: 'laser' })]);
    elsewhere.step(PADS, press(36, 90), 1000);
    elsewhere.step(PADS, press(36, 127), 1010);
    expect(elsewhere.trace().outcome[0]).toBe('fired');
    const asControl = loaded([lamp({ kind: 'control' })]);
    asControl.step(PADS, press(36, 90), 1000);
    asControl.step(PADS, press(36, 127), 1010);
    expect(asControl.trace().outcome[0]).toBe('fired');
  });

  test('of a pad whose lamp would be past the last place there is none', () => {
    const row = lamp(
      { channel: 15, number: 126 },
      {
        hear: pad(36, 39),
        sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 1, follows: true })],
        shape: { each: 'toggle', out: [0, 255] },
      },
    );
    const engine = loaded([row]);
    expect(said(engine.step(PADS, press(37), 0))).toEqual([
      'slot 2 = 255 (100 %)',
      'note 127 (G9) ch 16 pressed, force 127',
    ]);
    expect(said(engine.step(PADS, press(38), 1))).toEqual(['slot 3 = 255 (100 %)']);
  });

  test('is lit while what it sends sounds, and while what was sent last is above 0', () => {
    const note = makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28 });
    const engine = loaded([
      made({ id: 'sounds', hear: pad(36, 36, 'held'), sends: [note], answer: lampOf() }),
      made({
        id: 'level',
        hear: pad(37),
        sends: [slot(1)],
        shape: { out: [0, 255] },
        answer: lampOf({ number: 37 }),
      }),
      made({ id: 'sent', hear: pad(38), sends: [note], answer: lampOf({ number: 38 }) }),
    ]);
    engine.lineBack(PADS, 0);
    expect(said(engine.step(PADS, press(36), 1)).at(-1)).toBe('note 36 (C2) ch 10 pressed, force 127');
    expect(said(engine.step(PADS, release(36), 2)).at(-1)).toBe('note 36 (C2) ch 10 pressed, force 0');
    expect(said(engine.step(PADS, press(37), 3)).at(-1)).toBe('note 37 (C#2) ch 10 pressed, force 127');
    expect(engine.panic(4).count).toBe(0);
    expect(said(engine.step(PADS, press(38), 5)).at(-1)).toBe('note 38 (D2) ch 10 pressed, force 127');
    expect(said(engine.panic(6))).toEqual([
      'note 28 (E1) ch 6 released',
      'note 38 (D2) ch 10 pressed, force 0',
    ]);
  });

  test('is dark while its mapping’s bank is off', () => {
    const engine = loaded([lamp({}, { bankId: 'b' })], (show) => {
      show.banks = [{ id: 'b', name: 'B', on: true, group: '' }];
      show.mappings.push(
        made({
          id: 'turn',
          hear: pad(50),
          sends: [makeSend({ kind: 'bank', lineId: null, bankId: 'b', act: 'toggle' })],
          shape: { out: [0, 1] },
        }),
      );
    });
    engine.lineBack(PADS, 0);
    expect(said(engine.step(PADS, press(36), 1)).at(-1)).toBe('note 36 (C2) ch 10 pressed, force 127');
    expect(said(engine.step(PADS, press(50), 2))).toEqual(['note 36 (C2) ch 10 pressed, force 0']);
    expect(said(engine.step(PADS, press(50), 3))).toEqual(['note 36 (C2) ch 10 pressed, force 127']);
  });

  test('blinks for half of each so many beats, and is told once what it is', () => {
    const engine = loaded([lamp({ blinkBeats: 2, on: 9, off: 3 })]);
    engine.lineBack(PADS, 0);
    expect(engine.wakeAt()).toBe(Infinity);
    engine.step(PADS, press(36), 100);
    // 120 beats a minute from 0: two beats are 1 s, lit for 500 ms.
    expect(engine.wakeAt()).toBe(500);
    expect(until(engine, 1500).map((line) => line.replace(/note.*force /, ''))).toEqual([
      '500: 3',
      '1000: 9',
      '1500: 3',
    ]);
    // A waking in between changes nothing.
    expect(engine.wake(1600).count).toBe(0);
  });

  test('blinks from where the beat was tapped', () => {
    const engine = loaded([lamp({ blinkBeats: 1, on: 9, off: 3 })]);
    engine.lineBack(PADS, 0);
    engine.tap(100);
    engine.step(PADS, press(36), 200);
    expect(until(engine, 1000).map((line) => line.replace(/note.*force /, ''))).toEqual([
      '350: 3',
      '600: 9',
      '850: 3',
    ]);
  });

  test('is told again where its own line comes back, and where another does not', () => {
    const engine = loaded([lamp()]);
    engine.lineBack(PADS, 0);
    engine.step(PADS, press(36), 1);
    expect(said(engine.lineBack(LASER, 2))).toEqual([]);
    expect(said(engine.lineBack(PADS, 3))).toEqual(['note 36 (C2) ch 10 pressed, force 127']);
  });

  test('keeps what it was told through an edit of something else, and is told anew through one of itself', () => {
    const lamps = [lamp(), other(cc(9))];
    const engine = loaded(lamps);
    engine.lineBack(PADS, 0);
    engine.step(PADS, press(36), 1);
    expect(said(engine.replace({ ...lamps[1]!, name: 'Other' }, 1, 2))).toEqual([]);
    expect(said(engine.replace({ ...lamps[0]!, answer: lampOf({ on: 5 }) }, 0, 3))).toEqual([
      'note 36 (C2) ch 10 pressed, force 5',
    ]);
  });
});
