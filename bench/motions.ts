/**
 * (x) What motions cost: the engine's time for so many that run at 50 values a second, how late their instants are, what they add to a controller's message,
 * and a show with 500 that do not run.
 */
import { createEngine, type Engine } from '@tawny-signal/core/engine';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import { makeHear } from '@tawny-signal/core/hears';
import { makeSend } from '@tawny-signal/core/sends';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { makeMotion } from '@tawny-signal/core/show/motion';
import type { Signal } from '@tawny-signal/core/signal';
import { createWaker } from '../engine/waker.js';
import type { Results } from './results.js';

const PLACES = new Map([
  ['pads', 0],
  ['desk', 1],
]);

function showOf(running: number, still: number): Show {
  const hear = makeHear({
    message: 'control',
    lineId: 'pads',
    channels: 'any',
    numbers: [7, 7],
    values: 'any',
  });
  const motions = Array.from({ length: running + still }, (_, at) =>
    makeMotion({
      id: `m${at}`,
      name: `M${at}`,
      begins: at < running ? 'always' : 'asked',
      makes: { kind: 'wave' },
      // Fast enough that nearly every value differs from the last.
      drive: { everyMs: 600 + at, inStep: false },
      sends: [
        makeSend({
          kind: 'osc',
          lineId: 'desk',
          address: `/m/${at}`,
          args: [{ type: 'f', value: 'shaped' }],
        }),
      ],
    }),
  );
  return { ...emptyShow('Motions'), mappings: [newMapping('m', hear, 'desk')], motions };
}

interface MotionCost {
  running: number;
  /** The part of a core that they take, in the engine's own time: 0–1. */
  share: number;
  /** Values that leave in a second. */
  perSecond: number;
}

const SECONDS = 20;

/** The time that an engine takes for some seconds of its own time. @param running how many run, beside `still` that do not */
function motionCost(running: number, still = 0): MotionCost {
  const engine = createEngine();
  engine.take({ t: 'show', show: showOf(running, still), lineIndex: PLACES }, 0);
  const play = (from: number, to: number): number => {
    let sent = 0;
    for (let at = engine.wakeAt(); at <= to; at = engine.wakeAt())
      sent += engine.take({ t: 'wake' }, Math.max(from, at)).count;
    return sent;
  };
  play(0, 5000);
  const began = performance.now();
  const sent = play(5000, 5000 + SECONDS * 1000);
  return { running, share: (performance.now() - began) / 1000 / SECONDS, perSecond: sent / SECONDS };
}

/** Microseconds to make a show with so many motions ready. */
function motionCompile(count: number): number {
  const engine = createEngine();
  const show = showOf(0, count);
  const began = performance.now();
  engine.take({ t: 'show', show, lineIndex: PLACES }, 0);
  return performance.now() - began;
}

/** The middle one of some times, in µs. */
function medianOf(times: number, act: (at: number) => void): number {
  const took = Array.from({ length: times }, (_, at) => {
    const before = performance.now();
    act(at);
    return (performance.now() - before) * 1000;
  });
  return took.toSorted((a, b) => a - b)[times >> 1]!;
}

/** What a change of the tempo takes, and what it takes to tell a page what motions make: µs each. */
function motionTold(running: number): { tempo: number; told: number } {
  const engine = createEngine();
  engine.take({ t: 'show', show: showOf(running, 0), lineIndex: PLACES }, 0);
  engine.take({ t: 'wake' }, 5000);
  return {
    tempo: medianOf(200, (at) => engine.take({ t: 'tempo', bpm: 100 + (at % 50) }, 5000)),
    told: medianOf(200, () => JSON.stringify(engine.motions.seen(5000, 5000))),
  };
}

interface MotionWay {
  /** How late the engine is woken, in ms. */
  lateMedian: number;
  lateP99: number;
  /** What a controller's message takes in the engine while they run, in µs. */
  median: number;
  p99: number;
}

const WAY_MS = 2000;
const MESSAGES_A_SECOND = 5000;

/** Runs motions in real time, with messages beside. */
async function motionWay(running: number): Promise<MotionWay> {
  const engine: Engine = createEngine();
  engine.take({ t: 'show', show: showOf(running, 0), lineIndex: PLACES }, performance.now());
  const late: number[] = [];
  const took: number[] = [];
  const waker = createWaker(engine.wakeAt, () => {
    const now = performance.now();
    const due = engine.wakeAt();
    if (due !== Infinity) late.push(Math.max(0, now - due));
    engine.take({ t: 'wake' }, now);
    waker.plan();
  });
  waker.plan();
  const signal: Signal = { kind: 'controlChange', channel: 0, number: 7, value: 0 };
  const input = { t: 'heard' as const, line: 0, signal };
  const end = performance.now() + WAY_MS;
  let sent = 0;
  const began = performance.now();
  while (performance.now() < end) {
    const wanted = ((performance.now() - began) * MESSAGES_A_SECOND) / 1000;
    for (let n = 0; sent < wanted && n < 64; n++, sent++) {
      signal.value = sent & 127;
      const before = performance.now();
      engine.take(input, before);
      took.push(performance.now() - before);
    }
    waker.plan();
    await new Promise((done) => setImmediate(done));
  }
  waker.stop();
  const at = (list: number[], part: number): number =>
    list.toSorted((a, b) => a - b)[Math.floor(list.length * part)] ?? 0;
  return {
    lateMedian: at(late, 0.5),
    lateP99: at(late, 0.99),
    median: at(took, 0.5) * 1000,
    p99: at(took, 0.99) * 1000,
  };
}

/** Measures them, and says what was seen. */
export async function benchMotions(results: Results): Promise<void> {
  console.log('(x) what motions cost that send 50 values a second each');
  for (const running of [20, 200, 1000]) {
    const { share, perSecond } = motionCost(running);
    const way = await motionWay(running);
    console.log(
      `    ${String(running).padStart(4)} run: ${perSecond.toFixed(0)} values a second, ${(share * 100).toFixed(1)} % of one core; ` +
        `woken late by ${way.lateMedian.toFixed(3)} ms by median, ${way.lateP99.toFixed(2)} ms in 99 of 100; ` +
        `a message of 5,000 a second beside ${way.median.toFixed(2)} µs by median, ${way.p99.toFixed(1)} µs in 99 of 100`,
    );
  }
  // In turns, so that what else the machine does meets both.
  const rounds = { none: [] as number[], some: [] as number[], alone: [] as number[], among: [] as number[] };
  for (let round = 0; round < 5; round++) {
    rounds.none.push((await motionWay(0)).median);
    rounds.some.push((await motionWay(20)).median);
    rounds.alone.push(motionCost(20).share);
    rounds.among.push(motionCost(20, 480).share);
  }
  const middle = (list: number[]): number => list.toSorted((a, b) => a - b)[list.length >> 1]!;
  console.log(
    `    without motions a message takes ${middle(rounds.none).toFixed(2)} µs, with 20 ${middle(rounds.some).toFixed(2)} µs`,
  );
  results.add('x message while 20 motions run to none', middle(rounds.some) / middle(rounds.none), 1.2);
  results.add('x 20 motions among 500 to 20 alone', middle(rounds.among) / middle(rounds.alone), 1.2);
  console.log(`    500 motions are made ready in ${motionCompile(500).toFixed(1)} ms`);
  const [few, many] = [motionTold(1), motionTold(256)];
  console.log(
    `    a new tempo takes ${few.tempo.toFixed(1)} µs with 1 that runs, ${many.tempo.toFixed(1)} µs with 256; a clock that is followed has up to 48 in a second at 120 beats a minute`,
  );
  console.log(
    `    to tell a page what they make takes ${few.told.toFixed(1)} µs with 1, ${many.told.toFixed(1)} µs with 256, 25 times a second while one looks`,
  );
}
