/** What signals do to the show itself, and what controls are told of it: banks, the tempo, Panic, lamps and motor faders. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  anyNote,
  control,
  LINES,
  loaded,
  made,
  PADS,
  press,
  release,
  said,
  show,
  until,
  createEngine,
  type Engine,
} from './engine.test-helper.js';
import type { Answer } from './show/answer.js';
import type { Bank } from './show/bank.js';
import type { Mapping } from './show/mapping.js';
import { makeSend, type Send } from './sends.js';
import type { Show } from './show.js';
import { runs } from './runs.test-helper.js';
import { songBeatAt } from './time/tempo.js';

const cc = (number: number): Send => makeSend({ kind: 'control', lineId: 'laser', channel: 0, number });
const held = anyNote('held');
const pad = (number: number, message: 'pressed' | 'held' = 'pressed') => ({
  ...anyNote(message),
  channels: [9, 9] as [number, number],
  numbers: [number, number] as [number, number],
});
const bank = (id: string, on = true, group = ''): Bank => ({ id, name: id, on, group });
const banks =
  (...list: Bank[]) =>
  (made_: Show): void => {
    made_.banks = list;
  };
const turn = (bankId: string, act: 'on' | 'off' | 'toggle' | 'only' = 'toggle'): Send =>
  makeSend({ kind: 'bank', lineId: null, bankId, act });
const note = makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28 });

describe('a bank', () => {
  test('is switched by a mapping, and what its mappings held is released', () => {
    const engine = loaded(
      [
        made({ id: 'beam', hear: pad(36, 'held'), sends: [note], bankId: 'storm' }),
        made({ id: 'turn', hear: pad(40), sends: [turn('storm')], shape: { out: [0, 1] } }),
      ],
      banks(bank('storm')),
    );
    engine.step(PADS, press(36, 90), 0);
    expect(said(engine.step(PADS, press(40), 1))).toEqual(['note 28 (E1) ch 6 released']);
    expect([...engine.banksOn()]).toEqual([]);
    expect(engine.step(PADS, press(36), 2).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('bankOff');
    engine.step(PADS, press(40), 3);
    expect(engine.step(PADS, press(36), 4).count).toBe(1);
  });

  test('of a group goes when another of it comes', () => {
    const list = [bank('house', true, 'songs'), bank('storm', false, 'songs'), bank('always')];
    const engine = loaded(
      [made({ hear: pad(40), sends: [turn('storm', 'on')], shape: { out: [0, 1] } })],
      banks(...list),
    );
    engine.step(PADS, press(40), 0);
    expect([...engine.banksOn()]).toEqual(['always', 'storm']);
  });

  test('alone is the only one that is on', () => {
    const engine = loaded(
      [made({ hear: pad(40), sends: [turn('b', 'only')], shape: { out: [0, 1] } })],
      banks(bank('a'), bank('b', false), bank('c')),
    );
    engine.step(PADS, press(40), 0);
    expect([...engine.banksOn()]).toEqual(['b']);
  });

  test('that one button turns from either side is turned once', () => {
    const engine = loaded(
      [
        made({ id: 'to-b', hear: pad(40), sends: [turn('b', 'only')], shape: { out: [0, 1] }, bankId: 'a' }),
        made({ id: 'to-a', hear: pad(40), sends: [turn('a', 'only')], shape: { out: [0, 1] }, bankId: 'b' }),
      ],
      banks(bank('a'), bank('b', false)),
    );
    engine.step(PADS, press(40), 0);
    expect([...engine.banksOn()]).toEqual(['b']);
    engine.step(PADS, press(40), 1);
    expect([...engine.banksOn()]).toEqual(['a']);
  });

  test('can be a condition', () => {
    const engine = loaded([made({ sends: [cc(1)], when: { bankId: 'storm' } })], banks(bank('storm', false)));
    expect(engine.step(PADS, press(36), 0).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('whileBank');
  });

  test('does not turn while the show is safe', () => {
    const engine = loaded([made({ sends: [turn('storm')], shape: { out: [0, 1] } })], banks(bank('storm')));
    engine.setArmed(false, 0);
    engine.step(PADS, press(36), 1);
    expect([...engine.banksOn()]).toEqual(['storm']);
  });
});

test('a fader that is to be picked up does not jump after its bank was off', () => {
  const fader = made({
    id: 'fader',
    hear: { ...anyNote(), message: 'control' },
    sends: [cc(1)],
    shape: { pickUp: true },
    bankId: 'a',
  });
  const engine = loaded(
    [fader, made({ id: 'turn', hear: pad(40), sends: [turn('a')], shape: { out: [0, 1] } })],
    banks(bank('a')),
  );
  const move = (value: number): string[] => said(engine.step(PADS, control(21, value), 0));
  expect(move(100)).toEqual(['CC 1 ch 1 = 100']);
  engine.step(PADS, press(40), 1);
  expect(move(20)).toEqual([]);
  engine.step(PADS, press(40), 2);
  expect(move(30)).toEqual([]);
  expect(engine.trace().outcome[0]).toBe('pickUp');
  expect(move(60)).toEqual([]);
  // Past where it was.
  expect(move(104)).toEqual(['CC 1 ch 1 = 104']);
  expect(move(50)).toEqual(['CC 1 ch 1 = 50']);
});

describe('keys', () => {
  const chord = makeSend({ kind: 'key', lineId: 'stream', code: 'KeyS', with: ['ControlLeft', 'ShiftLeft'] });
  test('of a chord go down in order and come up the other way round', () => {
    const engine = loaded([made({ hear: held, sends: [chord] })]);
    expect(said(engine.step(PADS, press(36), 0))).toEqual([
      'key Left Ctrl down',
      'key Left Shift down',
      'key S down',
    ]);
    expect(said(engine.step(PADS, release(36), 1))).toEqual([
      'key S up',
      'key Left Shift up',
      'key Left Ctrl up',
    ]);
  });

  test('that are tapped are let go at once, however long the pad is held', () => {
    const tap = makeSend({ kind: 'key', lineId: 'stream', code: 'KeyS', tap: true, repeatMs: 100 });
    const engine = loaded([made({ hear: held, sends: [tap] })]);
    // Programs that poll their keys see one that is down for 30 ms (common practice: they poll once a frame).
    expect(said(engine.step(PADS, press(36), 0))).toEqual(['key S down']);
    expect(engine.wakeAt()).toBe(30);
    expect(said(engine.wake(30))).toEqual(['key S up']);
    expect(engine.wakeAt()).toBe(Infinity);
    expect(said(engine.step(PADS, release(36), 31))).toEqual([]);
  });

  test('one after another are typed with their pauses, each down for a while, and Panic ends it', () => {
    const typing = makeSend({
      kind: 'typing',
      lineId: 'stream',
      steps: [
        { codes: ['ControlLeft', 'KeyA'], pauseMs: 200 },
        { codes: ['Delete'], pauseMs: 50 },
        { codes: ['Enter'], pauseMs: 0 },
      ],
    });
    const engine = loaded([made({ sends: [typing] })]);
    expect(said(engine.step(PADS, press(36), 0))).toEqual(['key Left Ctrl down', 'key A down']);
    expect(until(engine, 200)).toEqual(['30: key A up', '30: key Left Ctrl up', '200: key Delete down']);
    // If typing is interrupted, the keys that are down are released, and nothing else is sent.
    expect(said(engine.panic(210))).toEqual(['key Delete up']);
    expect(until(engine, 5000)).toEqual([]);
    // The same if its mapping is changed meanwhile, or removed.
    engine.step(PADS, press(36), 5000);
    expect(said(engine.load(show([]), LINES, 5010))).toEqual(['key A up', 'key Left Ctrl up']);
    expect(until(engine, 9000)).toEqual([]);
  });
});

test('a slot fades from the level it has, and Panic leaves it where it is', () => {
  const fade = makeSend({ kind: 'slot', lineId: 'rig', slot: 5, fadeMs: 1000 });
  const engine = loaded([
    made({ hear: { ...anyNote(), message: 'control' }, sends: [fade], shape: { out: [0, 200] } }),
  ]);
  engine.step(PADS, control(21, 127), 0);
  expect(until(engine, 500).at(-1)).toContain('slot 5 = 100');
  engine.panic(510);
  expect(until(engine, 5000)).toEqual([]);
  engine.step(PADS, control(21, 0), 5000);
  expect(until(engine, 5500).at(-1)).toContain('slot 5 = 50');
});

test('Panic called by a pad releases everything, and says so', () => {
  const panic = made({
    id: 'panic',
    hear: pad(40),
    sends: [makeSend({ kind: 'panic', lineId: null })],
    shape: { out: [0, 1] },
  });
  const engine = loaded([made({ id: 'beam', hear: pad(36, 'held'), sends: [note] }), panic]);
  engine.step(PADS, press(36), 0);
  const outs = engine.step(PADS, press(40), 1);
  expect(outs.panic).toBe(true);
  expect(said(outs)).toEqual(['note 28 (E1) ch 6 released']);
});

test('the tempo is tapped by a pad, and a formula reckons with its beat', () => {
  const beat = makeSend({
    kind: 'osc',
    lineId: 'water',
    address: '/beat',
    args: [{ type: 'f', value: 'shaped' }],
  });
  const engine = loaded([
    made({
      id: 'tap',
      hear: pad(40),
      sends: [makeSend({ kind: 'tap', lineId: null })],
      shape: { out: [0, 1] },
    }),
    made({ id: 'beat', hear: pad(36), sends: [beat], shape: { curve: 'formula', formula: 'beat' } }),
  ]);
  engine.step(PADS, press(40), 0);
  engine.step(PADS, press(40), 600);
  expect(engine.tempo.tempo().bpm).toBe(100);
  expect(songBeatAt(engine.tempo.tempo(), 600)).toBe(0);
  expect(said(engine.step(PADS, press(36), 1500))).toEqual(['/beat 1.5']);
});

test('a tap counts from when it arrived, and not from when its turn came', () => {
  const tapping = made({
    hear: pad(40),
    sends: [makeSend({ kind: 'tap', lineId: null })],
    shape: { out: [0, 1] },
  });
  const engine = loaded([tapping]);
  engine.take({ t: 'heard', line: PADS, signal: press(40), at: 0 }, 30);
  engine.take({ t: 'heard', line: PADS, signal: press(40), at: 500 }, 501);
  expect(engine.tempo.tempo().bpm).toBe(120);
  expect(songBeatAt(engine.tempo.tempo(), 500)).toBe(0);
  // One that has waited longer than the tap before it, and one from the future, which no line can have.
  engine.take({ t: 'heard', line: PADS, signal: press(40), at: 400 }, 1000);
  expect(songBeatAt(engine.tempo.tempo(), 500)).toBe(0);
  engine.take({ t: 'heard', line: PADS, signal: press(40), at: 9000 }, 1500);
  expect(songBeatAt(engine.tempo.tempo(), 1500)).toBe(0);
});

describe('a lamp', () => {
  const answer = (change: Partial<Answer> = {}): Answer => ({
    lineId: 'pads',
    kind: 'note',
    channel: 9,
    number: 36,
    shows: 'value',
    bankId: null,
    on: 5,
    off: 1,
    blinkBeats: 0,
    ...change,
  });
  const lit = 'note 36 (C2) ch 10 pressed, force 5';
  const dark = 'note 36 (C2) ch 10 pressed, force 1';
  const lamp = (change: Partial<Answer>, more: Partial<Parameters<typeof made>[0]> = {}): Mapping =>
    made({ id: 'lamp', hear: pad(36, 'held'), sends: [cc(1)], answer: answer(change), ...more });
  /** Loaded; the lamps were told once. */
  function lamps(mappings: Mapping[], change?: (show: Show) => void): Engine {
    const engine = loaded(mappings, change);
    engine.lineBack(PADS, 0);
    return engine;
  }

  test('is told what it shows when its controller comes, and only what has changed after that', () => {
    const engine = loaded([lamp({})]);
    expect(said(engine.lineBack(PADS, 0))).toEqual([dark]);
    expect(said(engine.step(PADS, press(36), 1))).toEqual(['CC 1 ch 1 = 100', lit]);
    expect(said(engine.step(PADS, release(36), 2))).toEqual(['CC 1 ch 1 = 0', dark]);
    expect(said(engine.panic(3))).toEqual([]);
  });

  test('follows a toggle', () => {
    const engine = lamps([lamp({}, { hear: pad(36), shape: { each: 'toggle' } })]);
    const press_ = (at: number): string[] => said(engine.step(PADS, press(36), at)).slice(1);
    expect([press_(1000), press_(2000), press_(3000)]).toEqual([[lit], [dark], [lit]]);
  });

  test('shows whether a bank is on, whoever switched it', () => {
    const shows = lamp(
      { shows: 'bank', bankId: 'storm' },
      { sends: [turn('storm')], hear: pad(36), shape: { out: [0, 1] } },
    );
    const engine = lamps([shows], banks(bank('storm')));
    expect(said(engine.step(PADS, press(36), 1))).toEqual([dark]);
    const off = show([shows], banks(bank('storm', false)));
    expect(said(engine.load(off, LINES, 2))).toEqual([]);
    expect(said(engine.load(show([shows], banks(bank('storm', true))), LINES, 3))).toEqual([lit]);
  });

  test('blinks in tempo while it is lit', () => {
    const engine = lamps([lamp({ blinkBeats: 1 }, { hear: pad(36), shape: { each: 'toggle' } })]);
    // 120 beats a minute: a beat is 500 ms, dark in its second half.
    engine.step(PADS, press(36), 1000);
    expect(until(engine, 2000).map((line) => line.replace(/note.*force /, ''))).toEqual([
      '1250: 1',
      '1500: 5',
      '1750: 1',
      '2000: 5',
    ]);
    engine.step(PADS, press(36), 2100);
    expect(until(engine, 9000)).toEqual([]);
  });

  test('is not taken for its pad where the controller says back what it was told', () => {
    const engine = lamps([lamp({}, { hear: pad(36), shape: { each: 'toggle' } })]);
    engine.step(PADS, press(36), 1000);
    expect(engine.step(PADS, press(36, 5), 1010).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('echo');
    expect(said(engine.step(PADS, press(36, 90), 1020))).toEqual(['CC 1 ch 1 = 0', dark]);
  });

  test('is lit by a second press soon after the first, though the button says what the lamp was told', () => {
    const engine = lamps([lamp({ on: 127, off: 0 }, { hear: pad(36), shape: { each: 'toggle' } })]);
    engine.step(PADS, press(36, 127), 1000);
    expect(said(engine.step(PADS, press(36, 127), 1090))[0]).toBe('CC 1 ch 1 = 0');
  });

  test('on a muted line is told once the line is not muted any more', () => {
    const mappings = [lamp({}, { hear: { ...pad(36, 'held'), lineId: 'score' } })];
    const muted =
      (on: boolean) =>
      (made_: Show): void =>
        void (made_.lines = made_.lines.map((line) => (line.id === 'pads' ? { ...line, muted: on } : line)));
    const engine = loaded(mappings, muted(true));
    expect(said(engine.step(LINES.get('score')!, press(36), 1)).at(-1)).toBe(`[${lit}]`);
    expect(said(engine.load(show(mappings, muted(false)), LINES, 2))).toContain(lit);
  });

  test('is no note that sounds, and goes nowhere while the show is safe', () => {
    const engine = lamps([lamp({})]);
    const outs = engine.step(PADS, press(36), 1);
    expect(outs.lamp.slice(0, outs.count)).toEqual([false, true]);
    engine.setArmed(false, 2);
    expect(said(engine.step(PADS, press(36), 3)).every((words) => words.startsWith('['))).toBe(true);
    expect(said(engine.setArmed(true, 4)).length).toBe(1);
  });

  test('of a range has each pad’s own', () => {
    const row = made({
      id: 'row',
      hear: { ...pad(36), numbers: [36, 43] } as Mapping['hear'],
      sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 1, follows: true })],
      shape: { each: 'toggle' },
      answer: answer({}),
    });
    const engine = lamps([row]);
    expect(said(engine.step(PADS, press(38), 1))).toEqual([
      'slot 3 = 255 (100 %)',
      'note 38 (D2) ch 10 pressed, force 5',
    ]);
  });
});

describe('a motor fader', () => {
  const answer: Answer = {
    lineId: 'pads',
    kind: 'control',
    channel: 1,
    number: 21,
    shows: 'position',
    bankId: null,
    on: 127,
    off: 0,
    blinkBeats: 0,
  };
  const slot = makeSend({ kind: 'slot', lineId: 'rig', slot: 7 });
  const fader = made({
    id: 'fader',
    hear: { ...anyNote(), message: 'control', channels: [1, 1], numbers: [21, 21] } as Mapping['hear'],
    sends: [slot],
    shape: { out: [0, 255] },
    answer,
  });
  const other = made({ id: 'other', hear: pad(40), sends: [slot], shape: { out: [0, 255] } });

  test('goes where what another one sent would be, and not for its own moves', () => {
    const engine = loaded([fader, other]);
    expect(said(engine.step(PADS, press(40, 127), 0))).toEqual(['slot 7 = 255 (100 %)', 'CC 21 ch 2 = 127']);
    expect(said(engine.step(PADS, control(21, 60), 1000))).toEqual(['slot 7 = 120 (47 %)']);
    expect(said(engine.step(PADS, press(40, 64), 2000))).toEqual(['slot 7 = 129 (51 %)', 'CC 21 ch 2 = 64']);
  });

  test('that says where its motor brought it does not send it on', () => {
    const engine = loaded([fader, other]);
    engine.step(PADS, press(40, 100), 0);
    expect(engine.step(PADS, control(21, 100), 50).count).toBe(0);
    expect(engine.trace().outcome[0]).toBe('echo');
  });

  test('never goes round: with a controller that says everything back, it comes to rest', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(127), { minLength: 1, maxLength: 10 }), (forces) => {
        const engine = loaded([fader, other]);
        let now = 0;
        for (const force of forces) {
          let outs = engine.step(PADS, press(40, Math.max(1, force)), (now += 1000));
          for (let turn_ = 0; turn_ < 20 && outs.lamp.slice(0, outs.count).includes(true); turn_++) {
            const back = outs.signal[outs.lamp.indexOf(true)]!;
            outs = engine.step(PADS, { ...back }, (now += 5));
          }
          expect(outs.lamp.slice(0, outs.count)).not.toContain(true);
        }
      }),
    );
  });
});

describe('what the engine made of a message', () => {
  const outcome = (engine: Engine, ...inputs: Parameters<typeof press>[]): string[] =>
    inputs.map((given, at) => {
      engine.step(PADS, press(...given), at);
      return engine.trace().outcome.slice(0, engine.trace().count).join();
    });

  test('is said with the state it had then', () => {
    expect(outcome(loaded([made({ sends: [cc(1)], when: { twiceInMs: 500 } })]), [36], [36])).toEqual([
      'notTwice',
      'fired',
    ]);
    expect(outcome(loaded([made({ sends: [cc(1)], when: { onceInMs: 500 } })]), [36], [36])).toEqual([
      'fired',
      'tooSoon',
    ]);
    expect(outcome(loaded([made({ sends: [cc(1)], when: { changed: true } })]), [36, 9], [36, 9])).toEqual([
      'fired',
      'unchanged',
    ]);
    expect(
      outcome(loaded([made({ sends: [cc(1)], when: { shift: { channel: 9, number: 50 } } })]), [36]),
    ).toEqual(['shift']);
    expect(outcome(loaded([made({ hear: held, sends: [note], when: { heldForMs: 500 } })]), [36])).toEqual([
      'waiting',
    ]);
    expect(outcome(loaded([made({ sends: [cc(1)], shape: { deadband: 5 } })]), [36, 60], [36, 62])).toEqual([
      'fired',
      'deadband',
    ]);
    expect(
      outcome(
        loaded([made({ sends: [cc(1)], when: { crossing: { way: 'rises', at: 64, back: 0 } } })]),
        [36, 9],
      ),
    ).toEqual(['notCrossed']);
    expect(outcome(loaded([made({ hear: { values: [97, 97] }, sends: [cc(1)] })]), [36, 71])).toEqual([
      'value',
    ]);
  });

  test('has what was heard and what it was shaped into', () => {
    const engine = loaded([made({ sends: [cc(1)], shape: { out: [0, 254] } })]);
    engine.step(PADS, press(36, 50), 0);
    const { heard, shaped } = engine.trace();
    expect([heard[0], shaped[0]]).toEqual([50, 100]);
  });
});

/** Any mapping of a show, of every kind that sends and hears. */
const anySend = fc.oneof(
  fc
    .record({
      follows: fc.boolean(),
      length: fc.option(fc.nat(300)),
      delay: fc.nat(100),
      number: fc.nat(127),
    })
    .map(({ follows, length, delay, number }) =>
      makeSend({
        kind: 'note',
        lineId: 'laser',
        channel: 15,
        number,
        follows,
        lengthMs: length,
        delayMs: delay,
      }),
    ),
  fc
    .record({ tap: fc.boolean(), repeatMs: fc.constantFrom(0, 50), chord: fc.boolean() })
    .map(({ tap, repeatMs, chord }) =>
      makeSend({
        kind: 'key',
        lineId: 'stream',
        code: 'KeyS',
        tap,
        repeatMs,
        with: chord ? ['ControlLeft'] : [],
      }),
    ),
  fc
    .nat(300)
    .map((fadeMs) =>
      makeSend({ kind: 'slot', lineId: 'rig', slot: 510, follows: true, fadeMs, fine: fadeMs % 2 === 0 }),
    ),
  fc
    .constantFrom('on' as const, 'off' as const, 'toggle' as const, 'only' as const)
    .map((act) => turn('storm', act)),
  fc.constant(makeSend({ kind: 'tap', lineId: null })),
  fc.constant(makeSend({ kind: 'panic', lineId: null })),
  fc.constant(
    makeSend({
      kind: 'typing',
      lineId: 'stream',
      steps: [
        { codes: ['KeyA'], pauseMs: 30 },
        { codes: ['KeyB'], pauseMs: 0 },
      ],
    }),
  ),
  fc.constant(
    makeSend({ kind: 'osc', lineId: 'water', address: '/x/{number}', args: [{ type: 'f', value: 'red' }] }),
  ),
  fc.constant(makeSend({ kind: 'control14', lineId: 'laser', channel: 0, number: 3 })),
);
const anyShape = fc.record({
  each: fc.constantFrom(
    'value' as const,
    'toggle' as const,
    'list' as const,
    'dice' as const,
    'dial' as const,
  ),
  curve: fc.constantFrom('straight' as const, 'formula' as const, 'frequency' as const),
  formula: fc.constantFrom('value + was', '1 / (value - 64)', 'beat * number'),
  glideMs: fc.constantFrom(0, 70),
  pickUp: fc.boolean(),
  out: fc.constantFrom([0, 127] as [number, number], [1, 0] as [number, number]),
});
const anyMapping = fc
  .record({
    hear: fc.constantFrom(
      held,
      anyNote(),
      pad(37, 'held'),
      { message: 'control' } as const,
      {
        message: 'control14',
        channels: 'any',
        numbers: 'any',
        values: 'any',
      } as const,
    ),
    sends: fc.array(anySend, { minLength: 1, maxLength: 3 }),
    shape: anyShape,
    when: fc.record({
      heldForMs: fc.constantFrom(0, 40),
      bankId: fc.constantFrom(null, 'storm'),
      twiceInMs: fc.constantFrom(0, 60),
    }),
    bankId: fc.constantFrom(null, 'storm', 'house'),
    answer: fc.constantFrom(null, 'value' as const, 'bank' as const, 'position' as const),
  })
  .map(
    ({ answer, ...given }) =>
      (id: string): Mapping =>
        made({
          id,
          ...given,
          hear: given.hear as Partial<Mapping['hear']>,
          answer: answer && {
            lineId: 'pads',
            kind: 'note',
            channel: 0,
            number: 0,
            shows: answer,
            bankId: 'storm',
            on: 9,
            off: 0,
            blinkBeats: 1,
          },
        }),
  );
const anyShow = fc
  .array(anyMapping, { minLength: 1, maxLength: 4 })
  .map((list) => list.map((make, at) => make(`m${at}`)));
const anyInputs = fc.array(
  fc.record({
    wait: fc.nat(100),
    what: fc.constantFrom('down', 'up', 'fader', 'bank'),
    number: fc.integer({ min: 36, max: 39 }),
    value: fc.integer({ min: 1, max: 127 }),
  }),
  { maxLength: 20 },
);

describe('any show, whatever is played', () => {
  interface Played {
    log: string[];
    sounding: string[];
  }
  function play(
    mappings: Mapping[],
    inputs: { wait: number; what: string; number: number; value: number }[],
  ): Played {
    const engine = createEngine(7);
    const both = (on: boolean): Show =>
      show(mappings, banks(bank('storm', on, 'songs'), bank('house', true, 'songs')));
    const log: string[] = [];
    const sounding = new Set<string>();
    const take = (outs: ReturnType<Engine['wake']>): void => {
      log.push(...said(outs));
      for (let at = 0; at < outs.count; at++) {
        const signal = outs.signal[at]!;
        if (outs.lamp[at] || outs.heldBack[at]) continue;
        const key =
          signal.kind === 'key'
            ? signal.code
            : 'number' in signal
              ? `${signal.channel} ${signal.number}`
              : '';
        const down = signal.kind === 'noteOn' || (signal.kind === 'key' && signal.down);
        if (down) sounding.add(key);
        else if (signal.kind === 'noteOff' || signal.kind === 'key') sounding.delete(key);
      }
    };
    take(engine.load(both(true), LINES, 0));
    let now = 0;
    let on = true;
    for (const { wait, what, number, value } of inputs) {
      now += wait;
      while (engine.wakeAt() <= now) take(engine.wake(engine.wakeAt()));
      if (what === 'bank') take(engine.load(both((on = !on)), LINES, now));
      else
        take(
          engine.step(
            PADS,
            what === 'fader'
              ? control(number - 36, value)
              : what === 'down'
                ? press(number, value)
                : release(number),
            now,
          ),
        );
    }
    for (let number = 36; number < 40; number++) take(engine.step(PADS, release(number), now));
    take(engine.panic(now));
    return { log, sounding: [...sounding] };
  }

  test('throws nothing, and nothing sounds after the end', () => {
    fc.assert(
      fc.property(anyShow, anyInputs, (mappings, inputs) => {
        expect(play(mappings, inputs).sounding).toEqual([]);
      }),
      { numRuns: runs(400) },
    );
  });

  test('gives the same output for the same input, times and seed', () => {
    fc.assert(
      fc.property(anyShow, anyInputs, (mappings, inputs) => {
        expect(play(mappings, inputs).log).toEqual(play(mappings, inputs).log);
      }),
      { numRuns: runs(100) },
    );
  });
});

describe('one mapping that is changed in its place', () => {
  test('leaves everything as if the whole show had been read anew', () => {
    const changes = fc.array(fc.record({ at: fc.nat(3), make: anyMapping, on: fc.boolean() }), {
      minLength: 1,
      maxLength: 6,
    });
    fc.assert(
      fc.property(anyShow, changes, anyInputs, (first, list, inputs) => {
        const rows = first.map((row) => row);
        const edited = loaded(rows, banks(bank('storm'), bank('house')));
        for (const { at, make, on } of list) {
          const place = at % rows.length;
          rows[place] = { ...make(rows[place]!.id), on };
          edited.replace(rows[place], place, 0);
        }
        const whole = loaded(rows, banks(bank('storm'), bank('house')));
        const who = (engine: Engine, number: number, what: string, value: number): string[] => {
          engine.step(
            PADS,
            what === 'fader'
              ? control(number - 36, value)
              : what === 'down'
                ? press(number, value)
                : release(number),
            1,
          );
          const { mapping, count } = engine.trace();
          return mapping.slice(0, count);
        };
        for (const { number, what, value } of inputs)
          expect(who(edited, number, what, value)).toEqual(who(whole, number, what, value));
      }),
    );
  });

  test('releases what it held, and what others hold goes on', () => {
    const beam = made({ id: 'beam', hear: pad(36, 'held'), sends: [note] });
    const other = made({
      id: 'other',
      hear: pad(37, 'held'),
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 40 })],
    });
    const engine = loaded([beam, other]);
    engine.step(PADS, press(36), 0);
    engine.step(PADS, press(37), 1);
    expect(said(engine.replace({ ...beam, on: false }, 0, 2))).toEqual(['note 28 (E1) ch 6 released']);
    expect(said(engine.step(PADS, release(37), 3))).toEqual(['note 40 (E2) ch 6 released']);
    expect(said(engine.replace(beam, 0, 4))).toEqual([]);
    expect(said(engine.step(PADS, press(36), 5))).toEqual(['note 28 (E1) ch 6 pressed, force 100']);
  });
});
