/** Motions in the engine where several things meet: delays, a moving tempo, settings that are moved and written, and presses that motions make. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  channelSignals,
  motion,
  motionStage,
  moves,
  values,
  type Left,
} from './engine-motion.test-helper.js';
import { makeSend } from './sends.js';

/** The notes that are still down. */
function down(all: readonly Left[]): number[] {
  const notes = new Set<number>();
  for (const { kind, number } of channelSignals(all))
    if (kind === 'noteOn') notes.add(number);
    else if (kind === 'noteOff') notes.delete(number);
  return [...notes];
}

describe('notes', () => {
  const melody = (delayMs: number, legato: boolean, lengthMs: number | null) =>
    motion({
      id: 'melody',
      begins: 'asked',
      voices: 4,
      makes: { kind: 'random' },
      drive: { everyMs: 30, inStep: false },
      legato,
      shape: { scale: { notes: [0, 2, 4, 7, 9], root: 0, low: 48, high: 84 } },
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 2, number: 0, delayMs, lengthMs })],
    });

  test('never hang, with any delay and length, however a motion ends', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 200 }),
        fc.boolean(),
        fc.constantFrom(null, 0, 20, 500),
        fc.array(
          fc.tuple(
            fc.constantFrom('press', 'release', 'edit', 'safe', 'pass'),
            fc.integer({ min: 1, max: 120 }),
          ),
          {
            maxLength: 12,
          },
        ),
        fc.constantFrom('stop', 'panic', 'remove', 'safe'),
        (delayMs, legato, lengthMs, acts, end) => {
          const row = melody(delayMs, legato, lengthMs);
          const stage = motionStage([row], [moves('press', [60, 63], { motionId: 'melody' })]);
          const all: Left[] = [];
          for (const [act, number] of acts) {
            if (act === 'press') stage.press(60 + (number % 4));
            if (act === 'release') stage.release(60 + (number % 4));
            if (act === 'edit') stage.load((show) => (show.motions = [{ ...row, name: `Edit ${number}` }]));
            if (act === 'safe') {
              stage.give({ t: 'armed', armed: false });
              stage.give({ t: 'armed', armed: true });
            }
            stage.pass(number);
          }
          if (end === 'stop') stage.give({ t: 'motion', id: 'melody', act: 'stop' });
          if (end === 'panic') stage.give({ t: 'panic', desk: '' });
          if (end === 'remove') stage.load((show) => (show.motions = []));
          if (end === 'safe') stage.give({ t: 'armed', armed: false });
          stage.pass(1000);
          all.push(...stage.left().filter(({ heldBack }) => !heldBack));
          expect(down(all)).toEqual([]);
        },
      ),
      { numRuns: 300 },
    );
  });
});

test('a value that had to wait is sent, though the tempo changes meanwhile', () => {
  const row = motion({
    id: 'row',
    makes: { kind: 'steps', steps: [0.1, 0.2, 0.3, 0.4, 0.5].map((value) => ({ value })) },
    drive: { by: 'steps' },
    perSecond: 2,
  });
  const stage = motionStage([row], [moves('next', [37, 37], { motionId: 'row' })]);
  for (let n = 0; n < 3; n++) {
    stage.press(37);
    stage.pass(10);
    stage.give({ t: 'tempo', bpm: 100 + n });
  }
  stage.pass(1000);
  // Two a second: the first at once, the last one when its half second is over.
  expect(values(stage.left())).toEqual([
    { at: 0, value: 0.1 },
    { at: 500, value: 0.3 },
  ]);
});

test('a motion presses once in each cycle, and not with each of its values', () => {
  const bank = makeSend({ kind: 'bank', lineId: null, bankId: 'storm', act: 'toggle' });
  const square = motion({ makes: { kind: 'wave' }, drive: { everyMs: 1000, inStep: false }, sends: [bank] });
  const stage = motionStage([square], [], (show) => {
    show.banks = [{ id: 'storm', name: 'Storm glass', on: false, group: '' }];
  });
  const seen: boolean[] = [];
  for (let n = 0; n < 4; n++) {
    stage.pass(500);
    seen.push(stage.engine.banksOn().has('storm'));
    stage.pass(500);
  }
  expect(seen).toEqual([true, false, true, false]);
});

describe('a setting that a fader has moved', () => {
  const wave = motion({
    makes: { kind: 'wave', form: 'square', width: 0.5 },
    drive: { everyMs: 1000, inStep: false },
  });
  const highest = (stage: ReturnType<typeof motionStage>): number => {
    stage.left();
    stage.pass(1000);
    return Math.max(...values(stage.left()).map(({ value }) => value));
  };

  test('counts until it is written anew, or forgotten by hand', () => {
    const stage = motionStage([wave], [moves('amount', [20, 20])]);
    expect(highest(stage)).toBe(1);
    stage.press(20, 64);
    expect(highest(stage)).toBeCloseTo(64 / 127, 5);
    stage.load((show) => (show.motions = [{ ...wave, name: 'Another name' }]));
    expect(highest(stage)).toBeCloseTo(64 / 127, 5);
    stage.load((show) => (show.motions = [{ ...wave, shape: { ...wave.shape, amount: 0.25 } }]));
    expect(highest(stage)).toBe(0.25);
    stage.press(20, 127);
    expect(highest(stage)).toBe(1);
    stage.give({ t: 'motion', id: 'tide', act: 'reset' });
    expect(highest(stage)).toBe(0.25);
  });

  test('can be its form: a square is high for as much of its cycle', () => {
    const stage = motionStage([wave], [moves('form', [20, 20])]);
    stage.pass(1000);
    stage.press(20, 32);
    stage.pass(1000);
    stage.left();
    stage.pass(1000);
    const low = values(stage.left()).find(({ value }) => value === 0)!;
    expect(low.at % 1000).toBeCloseTo((32 / 127) * 1000, 0);
  });
});
