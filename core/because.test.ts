/** What leaves belongs to the signal that it leaves for, also when it leaves later. */
import { describe, expect, test } from '@jest/globals';
import {
  LINES,
  PADS,
  anyNote,
  mapping,
  press,
  release,
  show,
  createEngine,
  type Engine,
  type Outs,
} from './engine.test-helper.js';
import type { Hear } from './hears.js';
import type { Mapping } from './show/mapping.js';
import { makeMoment, makeMomentSend, type Moment } from './show/moment.js';
import { makeSend, type Send } from './sends.js';
import { makeShape } from './show/shape.js';
import { describeSignal } from './words.js';

/** `step: signal`, in the order in which they leave. */
const tied = (outs: Outs): string[] =>
  Array.from(
    { length: outs.count },
    (_, at) => `${outs.because[at]}: ${describeSignal(outs.signal[at]!, 4)}`,
  );

function tiedUntil(engine: Engine, to: number): string[] {
  const all: string[] = [];
  while (engine.wakeAt() <= to) all.push(...tied(engine.wake(engine.wakeAt())));
  return all;
}

function engineOf(mappings: Mapping[], moments: Moment[] = []): Engine {
  const engine = createEngine();
  engine.load(
    show(mappings, (made) => Object.assign(made, { moments })),
    LINES,
    0,
  );
  return engine;
}
const note36 = { ...anyNote(), numbers: [36, 36] } as Hear;
const WHOLE = makeShape({ from: 'value', in: [0, 127], out: [0, 127], curve: 'straight' });
const sending = (id: string, sends: Send[], change: Partial<Mapping> = {}): Mapping => ({
  ...mapping(id, note36),
  shape: WHOLE,
  sends,
  ...change,
});

const cc = (delayMs: number): Send =>
  makeSend({ kind: 'control', lineId: 'laser', channel: 0, number: 7, delayMs });
const slot = (fadeMs: number): Send => makeSend({ kind: 'slot', lineId: 'rig', slot: 1, fadeMs });

describe('of a mapping', () => {
  test('what has a delay, a length or a repeat belongs to its press, whatever was heard since', () => {
    const engine = engineOf([
      sending('a', [
        cc(50),
        makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, lengthMs: 80 }),
      ]),
    ]);
    expect(tied(engine.step(PADS, press(36), 0))).toEqual(['1: note 60 (C4) ch 1 pressed, force 100']);
    expect(tied(engine.step(PADS, press(99), 10))).toEqual([]);
    expect(tied(engine.step(PADS, press(36), 20))).toEqual([
      '3: note 60 (C4) ch 1 released',
      '3: note 60 (C4) ch 1 pressed, force 100',
    ]);
    expect(tiedUntil(engine, 1000)).toEqual([
      '1: CC 7 ch 1 = 100',
      '3: CC 7 ch 1 = 100',
      '3: note 60 (C4) ch 1 released',
    ]);
  });

  test('a fade and a glide belong to the value that they go to', () => {
    const fader: Hear = {
      message: 'control',
      lineId: 'pads',
      channels: 'any',
      numbers: [21, 21],
      values: 'any',
    };
    const engine = engineOf([
      sending('a', [slot(60)]),
      { ...mapping('g', fader), sends: [cc(0)], shape: { ...WHOLE, glideMs: 40 } },
    ]);
    engine.step(PADS, press(36, 127), 0);
    const fading = tiedUntil(engine, 100);
    expect(fading.length).toBeGreaterThan(2);
    expect(fading.every((line) => line.startsWith('1: slot 1'))).toBe(true);
    const turn = (value: number, at: number): Outs =>
      engine.step(PADS, { kind: 'controlChange', channel: 0, number: 21, value }, at);
    turn(0, 200);
    turn(100, 210);
    engine.wake(engine.wakeAt());
    turn(50, 230);
    const steps = tiedUntil(engine, 2000).map((line) => line.split(':')[0]);
    expect(new Set(steps)).toEqual(new Set(['4']));
  });

  test('what was done by hand belongs to nothing that was heard', () => {
    const engine = engineOf([sending('a', [cc(30)])]);
    engine.step(PADS, press(99), 0);
    engine.tryMapping('a', true, 1);
    expect(tiedUntil(engine, 100)).toEqual(['0: CC 7 ch 1 = 127']);
  });
});

test('all that a moment does belongs to the press that called it: delays, fades, ramps, and its release', () => {
  const called = makeMoment({
    id: 'm',
    cue: '1',
    name: 'Storm',
    callers: [{ ...note36, numbers: [51, 51] } as Hear],
    sends: [
      makeMomentSend({
        kind: 'levels',
        lineId: 'rig',
        fadeMs: 50,
        levels: [{ slots: [5, 5], level: 99 }],
      }),
      makeMomentSend({ kind: 'send', send: cc(0), value: 90, fadeMs: 50 }),
      makeMomentSend({
        kind: 'send',
        send: makeSend({
          kind: 'note',
          lineId: 'laser',
          channel: 0,
          number: 60,
          lengthMs: 40,
          delayMs: 20,
        }),
        value: 1,
      }),
    ],
  });
  const engine = engineOf([], [called]);
  engine.step(PADS, press(40), 0);
  engine.step(PADS, press(51), 1);
  engine.step(PADS, release(51), 2);
  const all = tiedUntil(engine, 1000);
  expect(all.length).toBeGreaterThan(6);
  expect(all.filter((line) => !line.startsWith('2: '))).toEqual([]);
});
