/** Motions in an engine in its own time, with what they send. */
import { createEngine, type Engine, type EngineInput, type Outs } from './engine.js';
import { LINES, made, PADS, press, release, show } from './engine.test-helper.js';
import { makeSend } from './sends.js';
import type { MotionSendAct } from './motion/acts.js';
import type { Mapping } from './show/mapping.js';
import { makeMotion, type Motion } from './show/motion.js';
import type { Show } from './show.js';
import { copySignal, type ChannelSignal, type OscSignal, type Signal } from './signal.js';

export interface Left {
  at: number;
  line: number;
  signal: Signal;
  heldBack: boolean;
  because: number;
}

export interface MotionStage {
  engine: Engine;
  now(): number;
  give(input: EngineInput): Outs;
  /** Lets time pass; the engine is woken when it asks for it. */
  pass(ms: number): void;
  press(number: number, force?: number, channel?: number): void;
  release(number: number, channel?: number): void;
  load(change: (show: Show) => void): void;
  /** What has left since the last call. */
  left(): Left[];
}

export const OSC = makeSend({
  kind: 'osc',
  lineId: 'water',
  address: '/tide',
  args: [{ type: 'f', value: 'shaped' }],
});
export const cc = (
  number: number,
  more: { follows?: boolean; channel?: number } = {},
): ReturnType<typeof makeSend> => makeSend({ kind: 'control', lineId: 'laser', channel: 0, number, ...more });

type Given = Partial<Parameters<typeof makeMotion>[0]>;
export const motion = (given: Given = {}): Motion =>
  makeMotion({ id: 'tide', name: 'Tide', makes: { kind: 'wave' }, sends: [OSC], ...given });

/** A mapping of notes of the pads that does something to a motion. */
export const moves = (
  act: MotionSendAct,
  numbers: [number, number],
  given: { motionId?: string; id?: string; heard?: 'held' | 'pressed' } = {},
): Mapping =>
  made({
    id: given.id ?? `${act} ${numbers[0]}`,
    hear: { message: given.heard ?? (act === 'press' ? 'held' : 'pressed'), channels: 'any', numbers },
    sends: [makeSend({ kind: 'motion', lineId: null, motionId: given.motionId ?? 'tide', act })],
  });

export function motionStage(
  motions: Motion[],
  mappings: Mapping[] = [],
  change: (show: Show) => void = () => undefined,
  wakesLateMs = 0,
): MotionStage {
  const engine = createEngine(7);
  const left: Left[] = [];
  let now = 0;
  let loaded = show(mappings, (made) => {
    made.motions = motions;
    change(made);
  });

  function give(input: EngineInput): Outs {
    const outs = engine.take(input, now);
    for (let at = 0; at < outs.count; at++)
      left.push({
        at: now,
        line: outs.line[at]!,
        signal: copySignal(outs.signal[at]!),
        heldBack: outs.heldBack[at]!,
        because: outs.because[at]!,
      });
    return outs;
  }
  give({ t: 'show', show: loaded, lineIndex: LINES });
  return {
    engine,
    now: () => now,
    give,
    pass(ms) {
      const end = now + ms;
      for (let due = engine.wakeAt(); due <= end; due = engine.wakeAt()) {
        now = Math.max(now, due + wakesLateMs);
        give({ t: 'wake' });
      }
      now = end;
    },
    press: (number, force = 100, channel = 9) =>
      void give({ t: 'heard', line: PADS, signal: press(number, force, channel) }),
    release: (number, channel = 9) => void give({ t: 'heard', line: PADS, signal: release(number, channel) }),
    load(next) {
      loaded = { ...loaded };
      next(loaded);
      give({ t: 'show', show: loaded, lineIndex: LINES });
    },
    left: () => left.splice(0),
  };
}

/** The values of OSC messages, with their times. */
export const values = (all: readonly Left[]): { at: number; value: number }[] =>
  all.flatMap(({ at, signal }) => {
    const arg = signal.kind === 'osc' ? (signal as OscSignal).args[0] : undefined;
    return arg?.type === 'f' ? [{ at, value: arg.value }] : [];
  });

export const channelSignals = (all: readonly Left[]): (ChannelSignal & { at: number })[] =>
  all.flatMap(({ at, signal }) => ('channel' in signal ? [{ at, ...signal }] : []));
