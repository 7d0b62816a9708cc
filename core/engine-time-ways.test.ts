/** Timecode over Art-Net and as OSC, heard and sent. Instants are exact, since the engine is given the time. */
import { describe, expect, test } from '@jest/globals';
import { dice } from './dice.js';
import { at, called, DECK, moment, timeStage, type TimeStage } from './engine-time.test-helper.js';
import { WATER } from './engine.test-helper.js';
import { timeOutputSchema, timeSourceSchema } from './time/ways.js';
import type { Signal } from './signal.js';
import { RATES, type FrameRate } from './timecode/frame-rate.js';
import { frameOf, framesAt, msOf, partsOf, writeTimecode } from './timecode/timecode.js';

const HOUR = at('01:00:00:00');
const ARTNET = timeSourceSchema.parse({ id: 'deck', kind: 'artnet', lineId: 'deck' });
const OSC = timeSourceSchema.parse({ id: 'player', kind: 'osc', lineId: 'water', address: '/pier/time' });

const frameSignal = (frame: number, rate: FrameRate): Signal => ({
  kind: 'timecode',
  ...partsOf(frame, rate),
  code: RATES[rate].code,
  speed: 1,
});

/** Gives a signal `everyMs`, at the position that it is made from. @param late how late each one is, in ms */
function play(
  stage: TimeStage,
  line: number,
  made: (ms: number) => Signal,
  { from = HOUR, ms = 1000, everyMs = 40, speed = 1, late = (): number => 0 } = {},
): void {
  const began = stage.now();
  for (let i = 0; i * everyMs < ms; i++) {
    stage.pass(Math.max(0, began + i * everyMs + late() - stage.now()));
    stage.give({ t: 'heard', line, signal: made(from + i * everyMs * speed) });
  }
  stage.pass(Math.max(0, began + ms - stage.now()));
}

const frames =
  (rate: FrameRate) =>
  (ms: number): Signal =>
    frameSignal(Math.round(framesAt(ms, rate)), rate);
const seconds = (ms: number): Signal => ({
  kind: 'osc',
  address: '/pier/time',
  args: [{ type: 'f', value: ms / 1000 }],
});
const text = (ms: number): Signal => ({
  kind: 'osc',
  address: '/pier/time',
  args: [{ type: 's', value: writeTimecode(Math.floor(framesAt(ms, '25') + 1e-6), '25') }],
});

describe('Art-Net timecode', () => {
  test('is followed at its own rate, and calls each moment at its time', () => {
    const stage = timeStage(
      [moment('1', '01:00:00:10'), moment('2', '01:00:00:20')],
      {},
      { sources: [ARTNET] },
    );
    play(stage, DECK, frames('25'));
    expect(called(stage)).toEqual(['m1', 'm2']);
    for (const call of stage.calls) expect(call.now).toBeCloseTo(call.position - HOUR, 3);
    expect(stage.engine.position.sources(stage.now())['deck']).toMatchObject({ state: 'locked', rate: '25' });
  });

  test('that repeats a frame stands there, and runs on from there', () => {
    const stage = timeStage([moment('1', '01:00:01:05')], {}, { sources: [ARTNET] });
    play(stage, DECK, frames('25'));
    play(stage, DECK, () => frameSignal(framesAt(HOUR, '25') + 25, '25'), { ms: 600 });
    expect(stage.engine.position.state().mode).toBe('standing');
    expect(stage.position()).toBe(HOUR + 1000);
    expect(called(stage)).toEqual([]);
    play(stage, DECK, frames('25'), { from: HOUR + 1000, ms: 500 });
    expect(called(stage)).toEqual(['m1']);
  });

  test('is sent a frame at a time, each when it begins, and read back within its frame', () => {
    const rate = '29.97df';
    const output = timeOutputSchema.parse({ id: 'out', kind: 'artnet', lineId: 'deck', frameRate: rate });
    const stage = timeStage([], {}, { outputs: [output] });
    const began = msOf(107_892, rate); // 01:00:00;00
    stage.act({ do: 'playFrom', ms: began });
    stage.pass(1001);
    stage.act({ do: 'stop' });
    const sent = stage.sent.filter(({ line }) => line === DECK);
    expect(sent).toHaveLength(32);
    sent.slice(0, 31).forEach(({ at: when, signal }, place) => {
      expect(signal).toEqual({ kind: 'timecode', ...partsOf(107_892 + place, rate), code: 2, speed: 1 });
      expect(when).toBeCloseTo(msOf(place, rate), 6);
    });
    expect(sent.at(-1)!.signal).toMatchObject({ hours: 1, seconds: 1, frames: 0, speed: 0 });
  });

  test('that follows a source with jitter says frame after frame, none twice', () => {
    const output = timeOutputSchema.parse({ id: 'out', kind: 'artnet', lineId: 'deck', frameRate: '30' });
    const stage = timeStage([], {}, { outputs: [output] });
    const roll = dice(11);
    stage.play(HOUR, 8000, { late: () => roll() * 12 });
    const told = stage.sent.flatMap(({ line, signal }) =>
      line === DECK && signal.kind === 'timecode' ? [frameOf(signal, '30')] : [],
    );
    expect(told.length).toBeGreaterThan(220);
    told.forEach((frame, at) => at > 0 && expect(frame).toBe(told[at - 1]! + 1));
  });

  test('that is sent backward says each frame where the position is', () => {
    const output = timeOutputSchema.parse({ id: 'out', kind: 'artnet', lineId: 'deck' });
    const stage = timeStage([], {}, { outputs: [output] });
    stage.play(HOUR, 1000, { speed: -1 });
    const told = stage.sent.filter(({ line }) => line === DECK);
    expect(told.length).toBeGreaterThan(15);
    for (const { at: when, signal } of told) {
      expect(signal).toMatchObject(partsOf(Math.round(framesAt(HOUR - when, '25')), '25'));
      expect(framesAt(HOUR - when, '25') % 1).toBeCloseTo(0, 3);
    }
  });
});

describe('OSC', () => {
  const SENDERS: [string, (ms: number) => Signal, number][] = [
    ['seconds, 30 a second', seconds, 1000 / 30],
    ['seconds, 10 a second', seconds, 100],
    ['seconds, 100 a second', seconds, 10],
    ['a text a frame', text, 40],
    ['a text, 100 a second', text, 10],
  ];
  test.each(SENDERS)('%s: is followed, and calls what it passes', (_, made, everyMs) => {
    const stage = timeStage([moment('1', '01:00:01:00'), moment('2', '01:00:02:12')], {}, { sources: [OSC] });
    play(stage, WATER, made, { ms: 4000, everyMs });
    expect(called(stage)).toEqual(['m1', 'm2']);
    for (const call of stage.calls) expect(Math.abs(call.now - (call.position - HOUR))).toBeLessThan(5);
  });

  test('with jitter is followed to about its size, at half and at four times the speed', () => {
    for (const speed of [0.5, 4]) {
      const stage = timeStage([], {}, { sources: [OSC] });
      const roll = dice(7);
      play(stage, WATER, seconds, { ms: 6000, speed, late: () => roll() * 6 });
      expect(stage.engine.position.state().mode).toBe('following');
      expect(Math.abs(stage.position() - HOUR - 6000 * speed)).toBeLessThan(10 * speed);
    }
  });

  test('that jumps calls nothing on the way, and is followed from there', () => {
    const stage = timeStage([moment('1', '01:00:30:00'), moment('2', '01:01:00:10')], {}, { sources: [OSC] });
    play(stage, WATER, seconds);
    play(stage, WATER, seconds, { from: HOUR + 60_000, ms: 1000 });
    expect(called(stage)).toEqual(['m2']);
    expect(stage.position()).toBeCloseTo(HOUR + 61_000, -1);
  });

  test('that says no position, or is for another address, moves nothing', () => {
    const stage = timeStage([], {}, { sources: [OSC] });
    const odd: Signal[] = [
      { kind: 'osc', address: '/pier/time', args: [{ type: 'f', value: NaN }] },
      { kind: 'osc', address: '/pier/time', args: [{ type: 'f', value: -1 }] },
      { kind: 'osc', address: '/pier/time', args: [{ type: 'd', value: 1e300 }] },
      { kind: 'osc', address: '/pier/time', args: [{ type: 's', value: '25:00:00:00' }] },
      { kind: 'osc', address: '/pier/time', args: [] },
      { kind: 'osc', address: '/other', args: [{ type: 'f', value: 5 }] },
    ];
    for (const signal of odd) play(stage, WATER, () => signal, { ms: 400 });
    expect(stage.position()).toBe(0);
    expect(stage.engine.position.state().mode).toBe('own');
  });
});
