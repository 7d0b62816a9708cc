/** Spans as people type them: a time (core/typed/time), or `2 beats`, `1/2 beat`, `1 bar`, `next beat`, `next bar`, `2 beats on the beat`. */
import { inMs, MOST_BEATS, SHORTEST_BEATS, type Span } from '../time/span.js';
import { BEATS_TO_BAR } from '../time/tempo.js';
import type { Typed } from './range.js';
import { readTime, writeTime, type TimeUnit } from './time.js';

const NEXT = /^\s*(?:the\s+)?next\s+(beat|bar)\s*$/i;
const COUNTED =
  /^\s*(?:(\d{1,5})\s*\/\s*(\d{1,3})|(\d{0,5}(?:[.,]\d{1,4})?))\s*(beat|bar)s?(?:\s+on\s+(?:the|a)\s+(beat|bar))?\s*$/i;

/** Whether a text is about beats, right or wrong. */
export const isInBeats = (text: string): boolean => /\b(?:beat|bar)s?\b/i.test(text);

/**
 * @param bare the unit of a number without one. @param highMs the longest time that is allowed
 * @param barBeats the beats to the bar: bars are written down as their beats
 */
export function readSpan(
  text: string,
  bare: TimeUnit,
  highMs: number,
  barBeats: number = BEATS_TO_BAR,
): Typed<Span> {
  if (!isInBeats(text)) {
    const time = readTime(text, bare, highMs);
    return time.ok ? { ok: true, value: inMs(time.value) } : time;
  }
  const next = NEXT.exec(text);
  if (next) return { ok: true, value: { ms: 0, beats: { beats: 0, on: wordOf(next[1]!) } } };
  const counted = COUNTED.exec(text);
  const number = counted ? numberOf(counted) : NaN;
  const beats = number * (counted && wordOf(counted[4]!) === 'bar' ? barBeats : 1);
  if (!counted || !(beats >= SHORTEST_BEATS && beats <= MOST_BEATS))
    return {
      ok: false,
      reason: `Write beats like 2 beats, 1/2 beat, 1 bar, next beat or 2 beats on the beat: 1/16 to ${MOST_BEATS} beats.`,
    };
  const on = counted[5] === undefined ? null : wordOf(counted[5]);
  return { ok: true, value: { ms: 0, beats: { beats, on } } };
}

const wordOf = (text: string): 'beat' | 'bar' => (text.toLowerCase() === 'bar' ? 'bar' : 'beat');

function numberOf([, above, below, plain]: RegExpExecArray): number {
  if (above !== undefined) return Number(above) / Number(below);
  return plain === '' ? NaN : Number(plain!.replace(',', '.'));
}

/** `2 beats`, `next bar`, `0.5 s` */
export function spanWords({ ms, beats }: Span): string {
  if (beats === null) return writeTime(ms);
  const { beats: count, on } = beats;
  if (count === 0) return on === null ? '0 beats' : `next ${on}`;
  const words = `${Number(count.toFixed(4))} ${count === 1 ? 'beat' : 'beats'}`;
  return on === null ? words : `${words} on the ${on}`;
}
