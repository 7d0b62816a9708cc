/** How often something repeats, as people type it: `4 s`, `0.5 Hz`, `2 beats`, `1 bar`. */
import { FASTEST_MS, SLOWEST_MS } from '../motion/drive.js';
import { BEATS_TO_BAR } from '../time/tempo.js';
import type { Typed } from './range.js';
import { isInBeats, readSpan, spanWords } from './span.js';
import { readTime, writeTime } from './time.js';

export interface Rate {
  everyMs: number;
  /** If not null, these count, and the time does not. */
  everyBeats: number | null;
}

const HERTZ = /^\s*(\d{0,6}(?:[.,]\d{0,6})?)\s*hz\s*$/i;
const WRONG = 'Write a time like 4 s, a rate like 0.5 Hz, or beats like 2 beats or 1 bar: 10 ms to 1 h.';

/** @param before keeps its time while it is in beats, and the other way round */
export function readRate(text: string, before: Rate, barBeats: number = BEATS_TO_BAR): Typed<Rate> {
  const hertz = HERTZ.exec(text);
  if (hertz) {
    const everyMs = 1000 / Number(hertz[1]!.replace(',', '.'));
    return everyMs >= FASTEST_MS && everyMs <= SLOWEST_MS
      ? { ok: true, value: { everyMs, everyBeats: null } }
      : { ok: false, reason: WRONG };
  }
  if (isInBeats(text)) {
    const span = readSpan(text, 's', SLOWEST_MS, barBeats);
    if (!span.ok) return span;
    const { beats } = span.value;
    if (beats === null || beats.on !== null || beats.beats === 0) return { ok: false, reason: WRONG };
    return { ok: true, value: { everyMs: before.everyMs, everyBeats: beats.beats } };
  }
  const time = readTime(text, 's', SLOWEST_MS);
  if (!time.ok || time.value < FASTEST_MS) return { ok: false, reason: WRONG };
  return { ok: true, value: { everyMs: time.value, everyBeats: null } };
}

/** `4 s`, `2 beats` */
export const writeRate = ({ everyMs, everyBeats }: Rate): string =>
  everyBeats === null ? writeTime(everyMs) : spanWords({ ms: 0, beats: { beats: everyBeats, on: null } });

const PERCENT = /^\s*([-−]?\d{1,4}(?:[.,]\d{1,3})?)\s*%?\s*$/;

/** A part of the whole, typed in percent: `80 %`, `80`. @returns 0.8 */
export function readPercent(text: string, low: number, high: number): Typed<number> {
  const match = PERCENT.exec(text);
  const value = match ? Number(match[1]!.replace('−', '-').replace(',', '.')) / 100 : NaN;
  return value >= low && value <= high
    ? { ok: true, value }
    : { ok: false, reason: `Write ${Math.round(low * 100)} to ${Math.round(high * 100)} %.` };
}

export const writePercent = (value: number): string => `${Number((value * 100).toFixed(2))} %`;

/** Several parts with commas or spaces between: `0, 50, 100 %`. */
export function readPercents(text: string, most: number): Typed<number[]> {
  const parts = text
    .replace(/%/g, ' ')
    .split(/[\s;]+|,\s+/)
    .filter((part) => part !== '');
  const read = parts.map((part) => readPercent(part.replace(/,$/, ''), 0, 1));
  const bad = read.find((one) => !one.ok);
  if (bad && !bad.ok) return bad;
  if (read.length === 0 || read.length > most)
    return { ok: false, reason: `Write 1 to ${most} values, like 0, 50, 100 %.` };
  return { ok: true, value: read.map((one) => (one.ok ? one.value : 0)) };
}

export const writePercents = (values: readonly number[]): string =>
  `${values.map((value) => Number((value * 100).toFixed(1))).join(', ')} %`;
