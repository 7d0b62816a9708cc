/** What a mapping sends in the course of time; the tests hand the engine its time. */
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
import { migrateRow } from './show/migrate.js';
import { makeSend, type Send } from './sends.js';
import type { Shape } from './show/shape.js';
import { mappingSchema } from './show/mapping.js';
import { runs } from './runs.test-helper.js';

const held = anyNote('held');
const note = (lengthMs: number | null = null, delayMs = 0): Send =>
  makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28, lengthMs, delayMs });
const key = (repeatMs = 0, delayMs = 0): Send =>
  makeSend({ kind: 'key', lineId: 'stream', code: 'ArrowLeft', repeatMs, delayMs });
const cc = (number: number, delayMs = 0): Send =>
  makeSend({ kind: 'control', lineId: 'laser', channel: 0, number, delayMs });

describe('one message that is heard', () => {
  test('sends several things, each with its own delay, in the order of their times', () => {
    const engine = loaded([made({ sends: [cc(1, 500), cc(2), cc(3, 100)] })]);
    expect(said(engine.step(PADS, press(36, 90), 1000))).toEqual(['CC 2 ch 1 = 90']);
    expect(engine.wakeAt()).toBe(1100);
    expect(until(engine, 5000)).toEqual(['1100: CC 3 ch 1 = 90', '1500: CC 1 ch 1 = 90']);
    expect(engine.wakeAt()).toBe(Infinity);
  });

  test('again while the first is on its way keeps both, each with its own value', () => {
    const engine = loaded([made({ sends: [cc(1, 100)] })]);
    engine.step(PADS, press(36, 10), 0);
    engine.step(PADS, press(36, 20), 0);
    expect(said(engine.wake(100))).toEqual(['CC 1 ch 1 = 10', 'CC 1 ch 1 = 20']);
  });

  test('that waits is forgotten on Panic, when the show is made safe, and when the mapping changes', () => {
    const changes: ((engine: Engine) => unknown)[] = [
      (engine) => engine.panic(50),
      (engine) => engine.setArmed(false, 50),
      (engine) => engine.load(show([]), LINES, 50),
    ];
    for (const change of changes) {
      const engine = loaded([made({ sends: [cc(1, 100)] })]);
      engine.step(PADS, press(36), 0);
      change(engine);
      expect(until(engine, 1000)).toEqual([]);
    }
  });
});

describe('a note', () => {
  test('with a length is released after it, whatever the pad does', () => {
    const engine = loaded([made({ hear: held, sends: [note(2000)] })]);
    expect(said(engine.step(PADS, press(36, 127), 0))).toEqual(['note 28 (E1) ch 6 pressed, force 127']);
    expect(said(engine.step(PADS, release(36), 300))).toEqual([]);
    expect(until(engine, 9000)).toEqual(['2000: note 28 (E1) ch 6 released']);
  });

  test('with a length that is pressed again is ended first, and then sounds its whole length', () => {
    const engine = loaded([made({ sends: [note(1000)] })]);
    engine.step(PADS, press(36, 90), 0);
    expect(said(engine.step(PADS, press(36, 80), 600))).toEqual([
      'note 28 (E1) ch 6 released',
      'note 28 (E1) ch 6 pressed, force 80',
    ]);
    expect(until(engine, 9000)).toEqual(['1600: note 28 (E1) ch 6 released']);
  });

  test('with a delay is released as much later', () => {
    const engine = loaded([made({ hear: held, sends: [note(null, 250)] })]);
    engine.step(PADS, press(36, 90), 0);
    engine.step(PADS, release(36), 100);
    expect(until(engine, 9000)).toEqual([
      '250: note 28 (E1) ch 6 pressed, force 90',
      '350: note 28 (E1) ch 6 released',
    ]);
  });

  test('that sounds is released at once on Panic, and not again', () => {
    const engine = loaded([made({ sends: [note(5000)] })]);
    engine.step(PADS, press(36), 0);
    expect(said(engine.panic(10))).toEqual(['note 28 (E1) ch 6 released']);
    expect(until(engine, 9000)).toEqual([]);
  });
});

describe('a key', () => {
  test('is pressed again and again until the pad is let go, and then never again', () => {
    const engine = loaded([made({ hear: held, sends: [key(120)] })]);
    expect(said(engine.step(PADS, press(53), 0))).toEqual(['key ← down']);
    expect(until(engine, 300)).toEqual(['120: key ← down', '240: key ← down']);
    expect(said(engine.step(PADS, release(53), 310))).toEqual(['key ← up']);
    expect(until(engine, 9000)).toEqual([]);
  });

  test('whose pad’s release is never heard is tapped, and not repeated', () => {
    const engine = loaded([made({ sends: [key(120)] })]);
    expect(said(engine.step(PADS, press(53), 0))).toEqual(['key ← down']);
    expect(until(engine, 9000)).toEqual(['30: key ← up']);
  });

  test('that repeats stops when the tab with the pad is closed, on Panic, and when the mapping goes', () => {
    const ways: ((engine: Engine) => string[])[] = [
      (engine) => said(engine.lineGone(PADS, 200)),
      (engine) => said(engine.panic(200)),
      (engine) => said(engine.load(show([]), LINES, 200)),
    ];
    for (const way of ways) {
      const engine = loaded([made({ hear: held, sends: [key(50)] })]);
      engine.step(PADS, press(53), 0);
      until(engine, 199);
      expect(way(engine)).toEqual(['key ← up']);
      expect(until(engine, 9000)).toEqual([]);
    }
  });
});

describe('nothing hangs', () => {
  test('a key pressed while the show was safe is not repeated once it is armed, though its pad is still down', () => {
    const engine = loaded([made({ hear: held, sends: [key(50)] })]);
    engine.setArmed(false, 0);
    expect(said(engine.step(PADS, press(53), 1))).toEqual(['[key ← down]']);
    engine.setArmed(true, 10);
    expect(until(engine, 1000)).toEqual([]);
    expect(said(engine.step(PADS, release(53), 1001))).toEqual([]);
    expect(said(engine.panic(1002))).toEqual([]);
  });

  test('what was to leave later while the show was safe does not leave once it is armed', () => {
    const engine = loaded([made({ sends: [cc(1, 100)] })]);
    engine.setArmed(false, 0);
    engine.step(PADS, press(36), 1);
    engine.setArmed(true, 50);
    expect(until(engine, 1000)).toEqual([]);
  });

  test('a note on its way when the tab with its pad is closed never sounds', () => {
    const engine = loaded([made({ hear: held, sends: [note(null, 500)] })]);
    engine.step(PADS, press(36), 0);
    engine.lineGone(PADS, 100);
    expect(until(engine, 5000)).toEqual([]);
  });

  test('a glide that was stopped on its way glides again from where it was', () => {
    const stops: ((engine: Engine) => unknown)[] = [
      (engine) => engine.panic(1050),
      (engine) => (engine.setArmed(false, 1050), engine.setArmed(true, 1051)),
    ];
    for (const stop of stops) {
      const engine = loaded([
        made({ hear: { message: 'control' }, sends: [cc(1)], shape: { glideMs: 100 } }),
      ]);
      engine.step(PADS, control(21, 0), 0);
      engine.step(PADS, control(21, 100), 1000);
      until(engine, 1049);
      stop(engine);
      expect(until(engine, 1999)).toEqual([]);
      engine.step(PADS, control(21, 10), 2000);
      expect(until(engine, 5000).at(-1)).toBe('2100: CC 1 ch 1 = 10');
    }
  });

  test('a note with a delay that is tried by hand is released as much later', () => {
    const engine = loaded([made({ sends: [note(null, 500)] })]);
    engine.tryMapping('m', true, 0);
    engine.tryMapping('m', false, 100);
    expect(until(engine, 5000)).toEqual([
      '500: note 28 (E1) ch 6 pressed, force 127',
      '600: note 28 (E1) ch 6 released',
    ]);
  });
});

// MIDI 1.0 Detailed Specification: controllers 0–31 and 32–63 are the high and low seven bits; RPN 101/100, NRPN 99/98, data entry 6/38 (from memory).
describe('fourteen bits', () => {
  const at = (send: Send, value: number): string[] => {
    const engine = loaded([
      made({ hear: { message: 'control' }, sends: [send], shape: { in: [0, 127], out: [0, 16_383] } }),
    ]);
    return said(engine.step(PADS, control(21, value), 0));
  };
  test('go out as two controllers, the high seven first', () => {
    const send = makeSend({ kind: 'control14', lineId: 'laser', channel: 1, number: 7 });
    expect(at(send, 127)).toEqual(['CC 7 ch 2 = 127', 'CC 39 ch 2 = 127']);
    expect(at(send, 64)).toEqual(['CC 7 ch 2 = 64', 'CC 39 ch 2 = 64']);
  });
  test('of a parameter are four', () => {
    const rpn = makeSend({ kind: 'parameter', lineId: 'laser', channel: 0, registered: true, number: 0 });
    expect(at(rpn, 0)).toEqual(['CC 101 ch 1 = 0', 'CC 100 ch 1 = 0', 'CC 6 ch 1 = 0', 'CC 38 ch 1 = 0']);
    const nrpn = makeSend({ kind: 'parameter', lineId: 'laser', channel: 0, registered: false, number: 300 });
    expect(at(nrpn, 127).slice(0, 2)).toEqual(['CC 99 ch 1 = 2', 'CC 98 ch 1 = 44']);
  });
  test('of a lamp are two slots, coarse and fine', () => {
    const lamp = makeSend({ kind: 'slot', lineId: 'rig', slot: 5, fine: true });
    const engine = loaded([made({ sends: [lamp], shape: { out: [0, 65_535] } })]);
    expect(said(engine.step(PADS, press(36, 64), 0))).toEqual(['slot 5 = 129 (51 %)', 'slot 6 = 2 (1 %)']);
  });
});

describe('a shape', () => {
  const shaped = (shape: Partial<Shape>, ...heard: number[]): string[] => {
    const engine = loaded([made({ hear: { message: 'control' }, sends: [cc(1)], shape })]);
    return heard
      .flatMap((value, now) => said(engine.step(PADS, control(21, value), now)))
      .map((words) => words.split('= ')[1]!);
  };
  test('with a deadband lets only a change of more than that pass', () => {
    expect(shaped({ deadband: 4 }, 60, 62, 64, 65, 63, 61, 60)).toEqual(['60', '65', '60']);
  });
  test('that toggles gives one end and the other, a press each; a release is none', () => {
    expect(shaped({ each: 'toggle', out: [0, 127] }, 127, 0, 100, 0, 127)).toEqual(['127', '0', '127']);
  });
  test('that walks a list gives one after another, and begins again', () => {
    expect(shaped({ each: 'list', list: [5, 9, 7] }, 1, 1, 1, 1)).toEqual(['5', '9', '7', '5']);
  });
  test('in steps gives only so many values, both ends among them', () => {
    expect(new Set(shaped({ steps: 5, out: [0, 100] }, ...Array.from({ length: 128 }, (_, n) => n)))).toEqual(
      new Set(['0', '25', '50', '75', '100']),
    );
  });
  test('by a table goes straight between its points', () => {
    const table: [number, number][] = [
      [0, 10],
      [64, 20],
      [127, 120],
    ];
    expect(shaped({ curve: 'table', table }, 0, 32, 64, 127)).toEqual(['10', '15', '20', '120']);
  });
  test('with dice gives values within its range, the same for the same seed, others for another', () => {
    const rolls = (seed: number): string[] => {
      const engine = createEngine(seed);
      engine.load(show([made({ sends: [cc(1)], shape: { each: 'dice', out: [20, 100] } })]), LINES, 0);
      return Array.from(
        { length: 40 },
        (_, now) => said(engine.step(PADS, press(36), now))[0]!.split('= ')[1]!,
      );
    };
    expect(rolls(1)).toEqual(rolls(1));
    expect(rolls(1)).not.toEqual(rolls(2));
    for (const roll of rolls(3).map(Number)) {
      expect(roll).toBeGreaterThanOrEqual(20);
      expect(roll).toBeLessThanOrEqual(100);
    }
  });
  test('with a glide reaches the value in that time, and turns round on its way', () => {
    const engine = loaded([made({ hear: { message: 'control' }, sends: [cc(1)], shape: { glideMs: 100 } })]);
    expect(said(engine.step(PADS, control(21, 0), 0))).toEqual(['CC 1 ch 1 = 0']);
    engine.step(PADS, control(21, 100), 1000);
    const up = until(engine, 1060);
    expect(up.at(-1)).toBe('1060: CC 1 ch 1 = 60');
    engine.step(PADS, control(21, 0), 1060);
    const down = until(engine, 5000);
    expect(down.at(-1)).toBe('1160: CC 1 ch 1 = 0');
    expect(engine.wakeAt()).toBe(Infinity);
  });
});

describe('a mapping is heeded only', () => {
  test('while a shift pad is held', () => {
    const engine = loaded([
      made({ hear: { numbers: [36, 36] }, sends: [cc(1)], when: { shift: { channel: 9, number: 40 } } }),
    ]);
    expect(engine.step(PADS, press(36), 0).count).toBe(0);
    engine.step(PADS, press(40), 1);
    expect(engine.step(PADS, press(36), 2).count).toBe(1);
    engine.step(PADS, release(40), 3);
    expect(engine.step(PADS, press(36), 4).count).toBe(0);
  });

  test('once it has been held for long enough, and is let go only if it began', () => {
    const engine = loaded([made({ hear: held, sends: [note()], when: { heldForMs: 800 } })]);
    expect(engine.step(PADS, press(36, 90), 0).count).toBe(0);
    expect(engine.step(PADS, release(36), 500).count).toBe(0);
    expect(until(engine, 5000)).toEqual([]);
    engine.step(PADS, press(36, 90), 6000);
    expect(until(engine, 9000)).toEqual(['6800: note 28 (E1) ch 6 pressed, force 90']);
    expect(said(engine.step(PADS, release(36), 9001))).toEqual(['note 28 (E1) ch 6 released']);
  });

  test('held for long enough, pressed twice at short: the first press does not count for the second', () => {
    const engine = loaded([made({ hear: held, sends: [note()], when: { heldForMs: 800 } })]);
    engine.step(PADS, press(36, 90), 0);
    engine.step(PADS, release(36), 500);
    engine.step(PADS, press(36, 90), 600);
    expect(until(engine, 1399)).toEqual([]);
    expect(until(engine, 1400)).toEqual(['1400: note 28 (E1) ch 6 pressed, force 90']);
  });
});

test('whatever a mapping is made of and whatever is played, nothing sounds after Panic, and nothing comes after it', () => {
  const sends = fc.array(
    fc.oneof(
      fc
        .record({ length: fc.option(fc.nat(300)), delay: fc.nat(200) })
        .map(({ length, delay }) => note(length, delay)),
      fc
        .record({ repeat: fc.constantFrom(0, 50), delay: fc.nat(200) })
        .map(({ repeat, delay }) => key(repeat, delay)),
      fc.nat(200).map((delay) => cc(1, delay)),
    ),
    { minLength: 1, maxLength: 3 },
  );
  const shapes = fc.record({
    glideMs: fc.constantFrom(0, 90),
    each: fc.constantFrom('value', 'toggle', 'dice'),
    out: fc.constant([0, 127]),
  });
  const whens = fc.record({ heldForMs: fc.constantFrom(0, 60), onceInMs: fc.constantFrom(0, 40) });
  const moves = fc.array(
    fc.record({ wait: fc.nat(120), down: fc.boolean(), pad: fc.integer({ min: 36, max: 38 }) }),
    {
      maxLength: 25,
    },
  );
  fc.assert(
    fc.property(
      sends,
      shapes,
      whens,
      fc.constantFrom('held', 'pressed'),
      moves,
      (list, shape, when, message, played) => {
        const engine = loaded([
          made({ hear: anyNote(message as 'held'), sends: list, shape: shape as Partial<Shape>, when }),
        ]);
        const sounding = new Map<string, boolean>();
        const take = (outs: ReturnType<Engine['wake']>): void => {
          for (let i = 0; i < outs.count; i++) {
            const signal = outs.signal[i]!;
            if (signal.kind === 'noteOn' || signal.kind === 'noteOff')
              sounding.set('note', signal.kind === 'noteOn');
            if (signal.kind === 'key') sounding.set('key', signal.down);
          }
        };
        let now = 0;
        for (const { wait, down, pad } of played) {
          now += wait;
          while (engine.wakeAt() <= now) take(engine.wake(engine.wakeAt()));
          take(engine.step(PADS, down ? press(pad) : release(pad), now));
        }
        take(engine.panic(now));
        expect([...sounding.values()].filter(Boolean)).toEqual([]);
        expect(until(engine, now + 10_000)).toEqual([]);
      },
    ),
    { numRuns: runs(300) },
  );
});

test('a mapping that was kept when it could send one thing only is read as one that sends that', () => {
  const { sends, when, ...rest } = made({ sends: [cc(1)] });
  const old = { ...rest, send: { kind: 'control', lineId: 'laser', channel: 0, number: 1 } };
  expect(mappingSchema.parse(migrateRow('mappings', old))).toEqual({ ...rest, sends, when });
});
