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

export interface MotionCost {
  running: number;
  /** The part of a core that they take, in the engine's own time: 0–1. */
  share: number;
  /** Values that leave in a second. */
  perSecond: number;
}

const SECONDS = 20;

/** The time that an engine takes for some seconds of its own time. @param running how many run, beside `still` that do not */
export function motionCost(running: number, still = 0): MotionCost {
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
export function motionCompile(count: number): number {
  const engine = createEngine();
  const show = showOf(0, count);
  const began = performance.now();
  engine.take({ t: 'show', show, lineIndex: PLACES }, 0);
  return performance.now() - began;
}

export interface MotionWay {
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
export async function motionWay(running: number): Promise<MotionWay> {
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
