/** A motion made ready. Its voices are made as they begin, so that a show with many motions costs what those that run cost. */
import type { Motion } from '../show/motion.js';
import { rangeOf, type Send, SENDS } from '../sends.js';
import { seedOf } from '../mapping/shape.js';
import { compileMotionShape, type Moved } from './shaping.js';

/** Where a send goes: the index of its line, -1 if it does not exist. */
export interface OutLine {
  line: number;
  muted: boolean;
}

/** What moves it while it runs; null where it is as it was written. */
export interface Settings {
  amount: number | null;
  offset: number | null;
  speed: number | null;
  form: number | null;
  give: number | null;
}

export interface CompiledMotion {
  source: Motion;
  outs: readonly OutLine[];
  shape(value: number, moved: Moved): number;
  /** The shortest time between two values that it sends, in ms. */
  intervalMs: number;
  seed: number;
  /** True while it is on, and its bank too. */
  live: boolean;
  settings: Settings;
}

/** DMX512 has 44 frames a second (ANSI E1.11); 50 a second are smooth enough for all else (common practice). */
const DMX_A_SECOND = 44;
const OTHERS_A_SECOND = 50;

function perSecondOf({ perSecond, sends }: Motion): number {
  if (perSecond !== null) return perSecond;
  return sends.some((send) => SENDS[send.kind].protocol === 'dmx') ? DMX_A_SECOND : OTHERS_A_SECOND;
}

export const newSettings = (): Settings => ({
  amount: null,
  offset: null,
  speed: null,
  form: null,
  give: null,
});

/** Plain values, as rows are. */
const isDeepEqual = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** A setting that was written anew counts as it is written, whatever has moved it before. */
export function settingsAfter(source: Motion, before: CompiledMotion | undefined): Settings {
  if (!before || before.source === source) return before?.settings ?? newSettings();
  const { shape, drive, makes } = before.source;
  const kept = before.settings;
  return {
    amount: source.shape.amount === shape.amount ? kept.amount : null,
    offset: source.shape.offset === shape.offset ? kept.offset : null,
    speed: isDeepEqual(source.drive, drive) ? kept.speed : null,
    form: isDeepEqual(source.makes, makes) ? kept.form : null,
    give: kept.give,
  };
}

export const compileMotion = (
  source: Motion,
  outs: readonly OutLine[],
  seed: number,
  settings: Settings,
): CompiledMotion => ({
  source,
  outs,
  shape: compileMotionShape(source.shape),
  intervalMs: 1000 / perSecondOf(source),
  seed: seedOf(source.id, seed),
  live: false,
  settings,
});

const HUES: [number, number] = [0, 360];
const PERCENTS: [number, number] = [0, 100];

/** A send as it is used by a motion: with the range of its values, and without a fade, since a motion moves by itself. */
export function sendOf({ shape: { scale, colour } }: Motion, send: Send): Send {
  const range = scale
    ? null
    : (send.range ?? (colour ? (colour.of === 'hue' ? HUES : PERCENTS) : rangeOf(send)));
  return 'fadeMs' in send ? { ...send, range, fadeMs: 0, fadeBeats: null } : { ...send, range };
}
