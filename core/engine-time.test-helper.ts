/** Plays timecode into an engine in its own time, and notes what it calls and sends. */
import { createEngine, type Engine, type EngineInput } from './engine.js';
import { LINES, SCORE, show } from './engine.test-helper.js';
import { makeMoment, type Moment } from './show/moment.js';
import { TIMECODE_SETTINGS, type TimecodeSettings } from './show/time.js';
import { type TimeOutput, type TimeSource } from './time/ways.js';
import type { Show } from './show.js';
import { copySignal, type Signal } from './signal.js';
import type { PositionAct } from './time/position.js';
import { RATES, type FrameRate } from './timecode/frame-rate.js';
import { fullFrame, quarterFrame } from './timecode/mtc.js';
import { framesAt, msOf, readTimecode } from './timecode/timecode.js';

/** An Art-Net line. */
export const DECK = 6;
const PLACES = new Map([...LINES, ['deck', DECK]]);

export const TIDE: TimeSource = { id: 'tide', lineId: 'score', kind: 'mtc', frameRate: null, offsetMs: 0 };

export const at = (text: string, rate: FrameRate = '25'): number => {
  const read = readTimecode(text, rate);
  if (!read.ok) throw new Error(read.reason);
  return msOf(read.value, rate);
};

export const moment = (cue: string, timecode: string | null, more: Partial<Moment> = {}): Moment => ({
  ...makeMoment({ id: `m${cue}`, cue, name: `Moment ${cue}`, timecode, sends: [] }),
  ...more,
});

export interface Sent {
  at: number;
  line: number;
  signal: Signal;
}

export interface TimeStage {
  engine: Engine;
  give(input: EngineInput): void;
  now(): number;
  /** The position that is shown, in ms. */
  position(): number;
  /** Lets time pass. */
  pass(ms: number): void;
  /** The engine stands still for some time, and is woken once after that. */
  stall(ms: number): void;
  /** Plays a source from a place. @param late how late a message is, in ms */
  play(
    from: number,
    ms: number,
    more?: { speed?: number; rate?: FrameRate; line?: number | readonly number[]; late?: () => number },
  ): void;
  /** The source says where it stands. */
  stand(ms: number, rate?: FrameRate, line?: number): void;
  act(act: PositionAct): void;
  load(change: (show: Show) => void): void;
  /** Calls by timecode, with the time in the show that was then. */
  calls: { id: string; what: string; now: number; position: number }[];
  sent: Sent[];
}

export function timeStage(
  moments: readonly Moment[],
  settings: Partial<TimecodeSettings> = {},
  {
    sources = [TIDE],
    outputs = [],
    wakesLate = () => 0,
  }: { sources?: TimeSource[]; outputs?: TimeOutput[]; wakesLate?: () => number } = {},
): TimeStage {
  const engine = createEngine();
  let now = 0;
  const stage: TimeStage = {
    engine,
    give,
    now: () => now,
    position: () => {
      const { ms, at: since, speed } = engine.position.motion();
      return ms + (now - since) * speed;
    },
    pass(ms) {
      const end = now + ms;
      for (let wakes = 0; engine.wakeAt() <= end; wakes++) {
        if (wakes > 1e6) throw new Error('it wakes for ever');
        now = Math.min(end, Math.max(now, engine.wakeAt()) + wakesLate());
        give({ t: 'wake' });
      }
      now = end;
    },
    stall(ms) {
      now += ms;
      give({ t: 'wake' });
    },
    play(from, ms, { speed = 1, rate = '25', line = SCORE, late = () => 0 } = {}) {
      const between = 250 / RATES[rate].fps / Math.abs(speed);
      // A sender begins with a whole set.
      const first = Math.round((framesAt(from, rate) * 4) / 8) * 8;
      const began = now;
      for (let i = 0; i * between < ms; i++) {
        const wanted = Math.max(now, began + i * between + late());
        stage.pass(wanted - now);
        for (const one of [line].flat())
          give({ t: 'heard', line: one, signal: quarterFrame(first + Math.sign(speed) * i, rate) });
      }
      stage.pass(Math.max(0, began + ms - now));
    },
    stand(ms, rate = '25', line = SCORE) {
      give({ t: 'heard', line, signal: fullFrame(Math.round(framesAt(ms, rate)), rate) });
    },
    act(act) {
      give({ t: 'position', act });
    },
    load(change) {
      const next = show([], (made) => {
        made.moments = [...moments];
        made.settings = { ...made.settings, timecode: { ...TIMECODE_SETTINGS, ...settings } };
        made.timeSources = sources;
        made.timeOutputs = outputs;
        change(made);
      });
      give({ t: 'show', show: next, lineIndex: PLACES });
    },
    calls: [],
    sent: [],
  };
  function give(input: EngineInput): void {
    const { count, line, signal } = engine.take(input, now);
    for (let i = 0; i < count; i++)
      stage.sent.push({ at: now, line: line[i]!, signal: copySignal(signal[i]!) });
    for (const { id, what, at: then, by } of engine.orderEvents())
      if (by.of === 'timecode')
        stage.calls.push({ id: id ?? '', what, now: then, position: stage.position() });
  }
  stage.load(() => undefined);
  return stage;
}

export const called = ({ calls }: TimeStage): string[] =>
  calls.filter(({ what }) => what === 'called').map(({ id }) => id);
