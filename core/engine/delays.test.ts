/** What the delay of a line does, and sends that are tried on it: the rules are our own, so the checks name no source. */
import { describe, expect, test } from '@jest/globals';
import {
  anyNote,
  createEngine,
  LASER,
  LINES,
  loaded,
  made,
  PADS,
  press,
  release,
  said,
  show,
  until,
  type Engine,
} from '../engine.test-helper.js';
import { makeSend } from '../sends.js';
import type { Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';

const beam = makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28 });
const panic = makeSend({ kind: 'panic', lineId: null });
const on = (number: number) =>
  ({ ...anyNote('held'), channels: [9, 9], numbers: [number, number] }) as Mapping['hear'];
const rows = [
  made({ id: 'beam', hear: on(36), sends: [beam] }),
  made({ id: 'stop', hear: on(40), sends: [panic] }),
];

/** The laser's line with a delay. */
const delayed =
  (delayMs: number, more: { muted?: boolean } = {}) =>
  (given: Show): void => {
    given.lines = given.lines.map((line) => (line.id === 'laser' ? { ...line, delayMs, ...more } : line));
  };
const reload = (engine: Engine, change: (given: Show) => void, now: number): string[] =>
  said(engine.load(show(rows, change), LINES, now));

describe('a line with a delay', () => {
  test('sends what leaves on it so much later, in its order, and says for which step', () => {
    const engine = loaded(rows, delayed(100));
    expect(said(engine.step(PADS, press(36, 90), 0))).toEqual([]);
    expect(said(engine.step(PADS, release(36), 30))).toEqual([]);
    expect(engine.wakeAt()).toBe(100);
    const outs = engine.wake(100);
    expect([said(outs), outs.because[0], outs.step, outs.sender[0]]).toEqual([
      ['note 28 (E1) ch 6 pressed, force 90'],
      1,
      0,
      'beam',
    ]);
    expect(until(engine, 1000)).toEqual(['130: note 28 (E1) ch 6 released']);
  });

  test('that is made shorter, or goes, lets nothing overtake', () => {
    for (const shorter of [10, 0]) {
      const engine = loaded(rows, delayed(100));
      engine.step(PADS, press(36), 0);
      reload(engine, delayed(shorter), 20);
      expect(said(engine.step(PADS, release(36), 30))).toEqual([]);
      expect(until(engine, 1000)).toEqual([
        '100: note 28 (E1) ch 6 pressed, force 100',
        '100: note 28 (E1) ch 6 released',
      ]);
      // Nothing waits any more, so that what comes has its own delay.
      engine.step(PADS, press(36), 200);
      expect(engine.wakeAt()).toBe(shorter === 0 ? Infinity : 210);
    }
  });

  test('forgets what waits at Panic and when the show is made safe, and releases at once', () => {
    const safe = loaded(rows, delayed(100));
    safe.step(PADS, press(36), 0);
    until(safe, 100);
    safe.step(PADS, press(36, 50), 110);
    expect(said(safe.setArmed(false, 120))).toEqual(['note 28 (E1) ch 6 released']);
    expect(safe.wakeAt()).toBe(Infinity);

    for (const ask of [
      (engine: Engine) => engine.panic(20),
      (engine: Engine) => engine.step(PADS, press(40), 20),
    ]) {
      const engine = loaded(rows, delayed(100));
      engine.step(PADS, press(36), 0);
      const outs = ask(engine);
      expect([said(outs), outs.panic, engine.wakeAt()]).toEqual([
        ['note 28 (E1) ch 6 released'],
        true,
        Infinity,
      ]);
      // And what comes after it waits again.
      expect([said(engine.step(PADS, press(36), 30)), engine.wakeAt()]).toEqual([[], 130]);
    }
  });

  test('that is muted holds back what waits, and releases at once what sounds', () => {
    const waits = loaded(rows, delayed(100));
    for (let at = 0; at < 9; at++) {
      waits.step(PADS, press(36, at + 1), at);
      waits.step(PADS, release(36), at);
    }
    waits.step(PADS, press(36, 10), 20);
    expect(reload(waits, delayed(100, { muted: true }), 50)).toEqual([
      ...Array.from({ length: 9 }, (_, at) => [
        `[note 28 (E1) ch 6 pressed, force ${at + 1}]`,
        '[note 28 (E1) ch 6 released]',
      ]).flat(),
      '[note 28 (E1) ch 6 pressed, force 10]',
      'note 28 (E1) ch 6 released',
    ]);
    expect(waits.wakeAt()).toBe(Infinity);
    const sounds = loaded(rows, delayed(100));
    sounds.step(PADS, press(36, 7), 0);
    until(sounds, 100);
    expect(reload(sounds, delayed(100, { muted: true }), 150)).toEqual(['note 28 (E1) ch 6 released']);
  });

  test('that has 20,000 waiting drops what comes after, and says so', () => {
    const engine = loaded(rows, delayed(60_000));
    for (let at = 0; at < 20_000; at++) engine.step(PADS, at % 2 ? release(36) : press(36), at);
    const outs = engine.step(PADS, press(36), 20_000);
    expect([outs.count, outs.dropped[0], outs.heldBack[0]]).toEqual([1, true, false]);
    engine.wake(60_000);
    expect(engine.step(PADS, release(36), 60_001).count).toBe(0);
  });
});

describe('a send that is tried on its line', () => {
  test('leaves at once, whatever the delay; without a mapping’s name', () => {
    const engine = loaded([], delayed(100));
    const outs = engine.take({ t: 'trySend', send: beam, pressed: true, value: 99 }, 5);
    expect([said(outs), outs.sender[0], outs.because[0], outs.line[0]]).toEqual([
      ['note 28 (E1) ch 6 pressed, force 99'],
      '',
      0,
      LASER,
    ]);
    expect(said(engine.take({ t: 'trySend', send: beam, pressed: false, value: 0 }, 6))).toEqual([
      'note 28 (E1) ch 6 released',
    ]);
  });

  test('is held back while the show is safe or the line is muted; nothing has no release', () => {
    const level = makeSend({ kind: 'slot', lineId: 'rig', slot: 3 });
    const engine = loaded([]);
    expect(engine.take({ t: 'trySend', send: level, pressed: false, value: 9 }, 0).count).toBe(0);
    engine.setArmed(false, 1);
    expect(said(engine.take({ t: 'trySend', send: level, pressed: true, value: 255 }, 2))).toEqual([
      '[slot 3 = 255 (100 %)]',
    ]);
    expect(engine.levels(LINES.get('rig')!)[2]).toBe(0);
    const muted = createEngine();
    muted.load(show([], delayed(0, { muted: true })), LINES, 0);
    expect(said(muted.take({ t: 'trySend', send: beam, pressed: true, value: 1 }, 0))).toEqual([
      '[note 28 (E1) ch 6 pressed, force 1]',
    ]);
  });
});
