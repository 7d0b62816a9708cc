/**
 * Times as people type them: `3 s`, `250 ms`, `1:30`, `2 min`, or a bare number in the unit of the field. Fades and the running order count in
 * seconds, delays and glides of mappings in milliseconds.
 */
import type { Typed } from './range.js';

/** What a number without a unit means in a field. */
export type TimeUnit = 's' | 'ms';

const UNIT_MS = { ms: 1, s: 1000, min: 60_000 } as const;
const UNIT_WORDS: Record<string, keyof typeof UNIT_MS> = {
  ms: 'ms',
  s: 's',
  sec: 's',
  second: 's',
  seconds: 's',
  m: 'min',
  min: 'min',
};
const EXAMPLES: Record<TimeUnit, string> = { s: '3 s, 0.5 s or 1:30', ms: '250 ms or 1.5 s' };

/** @param bare the unit of a number without one. @param highMs the longest time that is allowed. @returns milliseconds */
export function readTime(text: string, bare: TimeUnit, highMs: number): Typed<number> {
  const ms = minutesAndSeconds(text) ?? numberAndUnit(text, bare);
  if (ms === null || ms > highMs)
    return {
      ok: false,
      reason: `Write a time like ${EXAMPLES[bare]}, at most ${writeTime(highMs)}. A number alone is in ${bare === 's' ? 'seconds' : 'milliseconds'}.`,
    };
  return { ok: true, value: ms };
}

/** `1:30` and `1:30.5` are minutes and seconds. */
function minutesAndSeconds(text: string): number | null {
  const match = /^\s*(\d{1,4}):([0-5]\d(?:\.\d{1,3})?)\s*$/.exec(text);
  return match ? Math.round((Number(match[1]) * 60 + Number(match[2])) * 1000) : null;
}

function numberAndUnit(text: string, bare: TimeUnit): number | null {
  const match = /^\s*(\d{0,8}(?:[.,]\d{0,3})?)\s*([a-z]*)\s*$/i.exec(text);
  if (!match || !/\d/.test(match[1]!)) return null;
  const unit = match[2] === '' ? bare : UNIT_WORDS[match[2]!.toLowerCase()];
  if (!unit) return null;
  const ms = Number(match[1]!.replace(',', '.')) * UNIT_MS[unit];
  return Number(ms.toFixed(3));
}

/** Writes a time with its unit: `250 ms`, `3 s`, `1.5 s`. Below a second in milliseconds. */
export const writeTime = (ms: number): string =>
  ms > 0 && ms < 1000 ? `${Number(ms.toFixed(3))} ms` : `${Number((ms / 1000).toFixed(6))} s`;
