/** What is sent of the position: MIDI timecode (RP-004/008, from memory) and OSC. Instants are exact, since the engine is given the time. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dice } from './dice.js';
import { at, timeStage, type Sent, type TimeStage } from './engine-time.test-helper.js';
import { LASER, WATER } from './engine.test-helper.js';
import { timeOutputSchema, type TimeOutput } from './time/ways.js';
import type { SystemSignal } from './signal.js';
import { FRAME_RATES, RATE_OF_CODE, type FrameRate } from './timecode/frame-rate.js';
import { readMachineCommand } from './timecode/mmc.js';
import { readFullFrame } from './timecode/mtc.js';
import { createQuarterReader } from './timecode/mtc-reader.js';
import { frameOf, framesAt, msOf } from './timecode/timecode.js';

const HOUR = at('01:00:00:00');
const mtc = (change: object = {}): TimeOutput =>
  timeOutputSchema.parse({ id: 'mtc', kind: 'mtc', lineId: 'laser', ...change });
const osc = (change: object = {}): TimeOutput =>
  timeOutputSchema.parse({ id: 'osc', kind: 'osc', lineId: 'water', ...change });
const sending = (...outputs: TimeOutput[]): TimeStage => timeStage([], {}, { outputs });

const quarters = (stage: TimeStage): (Sent & { signal: SystemSignal })[] =>
  stage.sent.filter((one): one is Sent & { signal: SystemSignal } => one.signal.kind === 'system');
/** Where a receiver is after each quarter frame, in frames; null until it knows. */
function received(stage: TimeStage): { at: number; frame: number | null; code: number | null }[] {
  const reader = createQuarterReader();
  return quarters(stage).map(({ at: when, signal }) => {
    const heard = reader.take(signal.data1, when);
    return { at: when, frame: heard && heard.quarter / 4, code: heard && heard.code };
  });
}

describe('MIDI timecode', () => {
  test('has four messages a frame, each at its instant, from a whole set on', () => {
    const stage = sending(mtc({ frameRate: '30' }));
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(1000);
    const sent = quarters(stage);
    // 30 frames a second have 120 quarters; the first is at 0 ms, and the last is at 1000 ms.
    expect(sent).toHaveLength(121);
    sent.forEach((one, place) => expect(one.at).toBeCloseTo((place * 1000) / 120, 6));
    expect(sent[0]!.signal.data1 >> 4).toBe(0);
    expect(received(stage).at(-1)!.frame).toBe(framesAt(HOUR, '30') + 30);
  });

  test('says the rate by its code, and converts the position by real time', () => {
    fc.assert(
      fc.property(fc.constantFrom(...FRAME_RATES), fc.nat(80_000_000), (rate: FrameRate, ms) => {
        const stage = sending(mtc({ frameRate: rate }));
        stage.act({ do: 'playFrom', ms });
        stage.pass(500);
        const last = received(stage).at(-1)!;
        const rateHeard = last.code === null ? null : RATE_OF_CODE[last.code]!;
        expect(rateHeard && framesAt(1000, rateHeard)).toBeCloseTo(framesAt(1000, rate), -1);
        expect(msOf(last.frame!, rate)).toBeCloseTo(ms + last.at, 3);
      }),
      { numRuns: 50 },
    );
  });

  test('tells a jump and a stop by a full message, and begins anew after them', () => {
    const stage = sending(mtc());
    stage.act({ do: 'locate', ms: at('01:02:03:04') });
    stage.act({ do: 'play' });
    stage.pass(300);
    stage.act({ do: 'stop' });
    const full = stage.sent.flatMap(({ signal }) => {
      const read = signal.kind === 'sysex' ? readFullFrame(signal.bytes) : null;
      return read ? [frameOf(read.parts, '25') / 25] : [];
    });
    const from = at('01:02:03:04') / 1000;
    // The stop is in the middle of a frame: 300 ms are seven frames and a half.
    expect(full).toEqual([from, from + 0.28]);
  });

  test('is sent at its own speed and backward pieces come from 7 to 0', () => {
    const stage = sending(mtc());
    stage.play(HOUR, 1000, { speed: -1 });
    const pieces = quarters(stage).map(({ signal }) => signal.data1 >> 4);
    expect(pieces.slice(0, 10)).toEqual([7, 6, 5, 4, 3, 2, 1, 0, 7, 6]);
    const last = received(stage).at(-1)!;
    expect(msOf(last.frame!, '25')).toBeCloseTo(HOUR - last.at, 0);
  });

  test('follows a source without its jitter, and has an offset', () => {
    const stage = sending(mtc({ offsetMs: 2000 }));
    let late = 0;
    stage.play(HOUR, 3000, { late: () => (late = (late + 7) % 11) });
    const heard = received(stage).slice(40);
    for (const { at: when, frame } of heard)
      expect(Math.abs(msOf(frame!, '25') - (HOUR + 2000 + when))).toBeLessThan(12);
  });

  test('loses no message if the engine wakes up to a millisecond late', () => {
    const roll = dice(3);
    const stage = timeStage([], {}, { outputs: [mtc({ frameRate: '30' })], wakesLate: () => roll() });
    stage.play(HOUR, 2000);
    const pieces = quarters(stage).map(({ signal }) => signal.data1 >> 4);
    // The source is locked within 0.3 s, and a set begins within 67 ms of that.
    expect(pieces.length).toBeGreaterThan(120 * 1.6);
    pieces.forEach((piece, place) => expect(piece).toBe(place % 8));
  });

  test('does not drift', () => {
    const stage = sending(mtc({ frameRate: '29.97df' }));
    stage.act({ do: 'playFrom', ms: 0 });
    stage.pass(600_000);
    const sent = quarters(stage);
    expect(sent).toHaveLength(Math.floor(framesAt(600_000, '29.97df') * 4) + 1);
    const last = received(stage).at(-1)!;
    expect(msOf(last.frame!, '29.97df') - last.at).toBeCloseTo(0, 3);
  });

  test('is not sent by an output that is off, or while the show is safe', () => {
    const stage = sending(mtc({ on: false }));
    stage.act({ do: 'playFrom', ms: HOUR });
    stage.pass(200);
    expect(stage.sent).toEqual([]);
  });
});

test('machine control says where it goes, plays and stops', () => {
  const stage = sending(timeOutputSchema.parse({ id: 'mmc', kind: 'mmc', lineId: 'laser' }));
  stage.act({ do: 'locate', ms: HOUR });
  stage.act({ do: 'play' });
  stage.pass(1000);
  stage.act({ do: 'stop' });
  const said = stage.sent.map(
    ({ signal }) => signal.kind === 'sysex' && readMachineCommand(signal.bytes)?.act,
  );
  expect(said).toEqual(['stop', 'locate', 'locate', 'play', 'stop', 'locate']);
});

describe('OSC', () => {
  test('says seconds and text, as often as it is asked to, and at a jump and a stop', () => {
    const stage = sending(osc({ perSecond: 10 }));
    stage.act({ do: 'locate', ms: HOUR });
    stage.act({ do: 'play' });
    stage.pass(1000);
    stage.act({ do: 'stop' });
    const said = stage.sent.map(({ signal, line, at: when }) => {
      if (signal.kind !== 'osc' || line !== WATER) throw new Error('something else was sent');
      const [seconds, text] = signal.args as { value: number | string }[];
      return [when, signal.address, seconds!.value, text!.value];
    });
    expect(said[0]).toEqual([0, '/time', 3600, '01:00:00:00']);
    expect(said.at(-1)).toEqual([1000, '/time', 3601, '01:00:01:00']);
    expect(said.map(([when]) => when)).toEqual([
      0, 0, 100, 200, 300, 400, 500, 600, 700, 800, 900, 1000, 1000,
    ]);
  });
});

test('an edit of another row leaves the sets of an output whole', () => {
  const stage = sending(mtc());
  stage.act({ do: 'playFrom', ms: HOUR });
  stage.pass(205);
  stage.load((show) => (show.settings.name = 'Another name'));
  stage.pass(400);
  const pieces = quarters(stage).map(({ signal }) => signal.data1 >> 4);
  pieces.forEach((piece, place) => expect(piece).toBe(place % 8));
  expect(stage.sent.every(({ line }) => line === LASER)).toBe(true);
});
