/** (v) What time costs: a controller's message with and without rows of time in the show, and each message that carries time. */
import { createEngine, type Engine } from '@tawny-signal/core/engine';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import { makeHear } from '@tawny-signal/core/hears';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import { timeOutputSchema, timeSourceSchema } from '@tawny-signal/core/time/ways';
import { quarterFrame } from '@tawny-signal/core/timecode/mtc';
import { writePosition } from '@tawny-signal/core/timecode/timecode';

const PADS = 0;
const DESK = 1;
const PLACES = new Map([
  ['pads', PADS],
  ['desk', DESK],
  ['tide', 2],
  ['deck', 3],
]);
const MESSAGES = 100_000;
const ROUNDS = 9;
const CLOCK = 0xf8;

export interface TimeCosts {
  /** Microseconds a message: without rows of time, with eight that stand, and with eight while a source is followed. */
  without: number;
  standing: number;
  following: number;
  /** Microseconds of a quarter frame and of a clock that are followed, with what they cause to be sent. */
  quarter: number;
  clock: number;
  /** Microseconds of a quarter frame where 500 tempo marks give the tempo along the position that it moves. */
  marked: number;
}

function showOf(withTime: boolean): Show {
  const hear = makeHear({
    message: 'control',
    lineId: 'pads',
    channels: 'any',
    numbers: [7, 7],
    values: 'any',
  });
  const show: Show = { ...emptyShow('Time'), mappings: [newMapping('m', hear, 'desk')] };
  if (!withTime) return show;
  show.timeSources = [
    timeSourceSchema.parse({ id: 'a', kind: 'mtc', lineId: 'tide' }),
    timeSourceSchema.parse({ id: 'b', kind: 'clock', lineId: 'tide' }),
    timeSourceSchema.parse({ id: 'c', kind: 'artnet', lineId: 'deck' }),
    timeSourceSchema.parse({ id: 'd', kind: 'osc', lineId: 'desk' }),
  ];
  show.timeOutputs = [
    timeOutputSchema.parse({ id: 'e', kind: 'mtc', lineId: 'tide', frameRate: '30' }),
    timeOutputSchema.parse({ id: 'f', kind: 'clock', lineId: 'tide' }),
    timeOutputSchema.parse({ id: 'g', kind: 'artnet', lineId: 'deck' }),
    timeOutputSchema.parse({ id: 'h', kind: 'osc', lineId: 'desk' }),
  ];
  return show;
}

const median = (list: number[]): number => list.toSorted((a, b) => a - b)[list.length >> 1]!;

interface Rig {
  engine: Engine;
  now: number;
}

const MARKS = 500;

/** Time rows, and a tempo mark every four seconds. */
function markedShow(): Show {
  const tempoMarks = Array.from({ length: MARKS }, (_, at) => ({
    id: `m${at}`,
    name: '',
    timecode: writePosition(3_600_000 + at * 4000, '25'),
    bpm: 60 + (at % 7) * 20,
  }));
  return { ...showOf(true), tempoMarks };
}

function rig(show: Show): Rig {
  const engine = createEngine();
  engine.take({ t: 'show', show, lineIndex: PLACES }, 0);
  return { engine, now: 0 };
}

function pass(one: Rig, to: number): void {
  while (one.engine.wakeAt() <= to) one.engine.take({ t: 'wake' }, Math.max(one.now, one.engine.wakeAt()));
  one.now = to;
}

/** Microseconds a message of a controller, in an instant in which nothing is due. */
function controllers({ engine, now }: Rig): number {
  const signal: Signal = { kind: 'controlChange', channel: 0, number: 7, value: 0 };
  const input = { t: 'heard' as const, line: PADS, signal };
  const began = performance.now();
  for (let at = 0; at < MESSAGES; at++) {
    signal.value = at & 127;
    engine.take(input, now);
    engine.wakeAt();
  }
  return ((performance.now() - began) * 1000) / MESSAGES;
}

/** Plays a source for a while. @returns microseconds a message */
function play(one: Rig, count: number, betweenMs: number, signalOf: (at: number) => Signal): number {
  let spent = 0;
  const began = one.now;
  for (let at = 0; at < count; at++) {
    pass(one, began + at * betweenMs);
    const before = performance.now();
    one.engine.take({ t: 'heard', line: 2, signal: signalOf(at) }, one.now);
    spent += performance.now() - before;
  }
  return (spent * 1000) / count;
}

export function benchTimeCost(): TimeCosts {
  const without = rig(showOf(false));
  const standing = rig(showOf(true));
  const following = rig(showOf(true));
  const clocked = rig(showOf(true));
  const frame = (at: number): Signal => quarterFrame(360_000 + at, '25');
  const marked = rig(markedShow());
  play(following, 4000, 10, frame);
  play(marked, 4000, 10, frame);
  const tick: Signal = { kind: 'system', status: CLOCK, data1: 0, data2: 0 };
  play(clocked, 4000, 2500 / 118, () => tick);
  const figures = {
    without: [],
    standing: [],
    following: [],
    quarter: [],
    clock: [],
    marked: [],
  } as Record<keyof TimeCosts, number[]>;
  // In turns, so that what else the machine does meets all of them.
  let played = 4000;
  for (let round = 0; round < ROUNDS; round++) {
    figures.without.push(controllers(without));
    figures.standing.push(controllers(standing));
    figures.following.push(controllers(following));
    figures.quarter.push(play(following, 4000, 10, (at) => frame(played + at)));
    figures.marked.push(play(marked, 4000, 10, (at) => frame(played + at)));
    played += 4000;
    figures.clock.push(play(clocked, 4000, 2500 / 118, () => tick));
  }
  return {
    without: median(figures.without),
    standing: median(figures.standing),
    following: median(figures.following),
    quarter: median(figures.quarter),
    clock: median(figures.clock),
    marked: median(figures.marked),
  };
}
