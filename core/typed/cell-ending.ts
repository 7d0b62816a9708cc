/** What may stand at the end of anything in a cell: `fade 4 s`, `fade 2 beats`, `slow-start`, `after 0.5 s`, `after next bar`. */
import { BENDS_NAMES } from '../show/fields.js';
import { must } from './bad-cell.js';
import { isNone, type BeatSpan, type Span } from '../time/span.js';
import { readSpan, spanWords } from './span.js';
import type { TimeUnit } from './time.js';

export interface Ending {
  fadeMs: number;
  fadeBeats: BeatSpan | null;
  curve: (typeof BENDS_NAMES)[number];
  delayMs: number;
  delayBeats: BeatSpan | null;
}

/** A time with or without its unit, or beats, as the source of a pattern with one group. */
export const TIME = String.raw`(\d+(?:[.,:/]\d+)?(?:\.\d+)?\s*(?:ms|s|sec|min|m|(?:beat|bar)s?(?:\s+on\s+the\s+(?:beat|bar))?)?|next\s+(?:beat|bar))`;
const FADE = new RegExp(String.raw`\s+fade\s+${TIME}$`, 'i');
const AFTER = new RegExp(String.raw`\s+after\s+${TIME}$`, 'i');
const CURVE = new RegExp(String.raw`\s+(${BENDS_NAMES.join('|')})$`, 'i');

/** Takes endings off a text, in any order. @param bare the unit of a time without one. @throws BadCell */
export function takeEnding(text: string, bare: TimeUnit): { what: string; ending: Ending } {
  const ending: Ending = {
    fadeMs: 0,
    fadeBeats: null,
    curve: 'straight',
    delayMs: 0,
    delayBeats: null,
  };
  let what = text.trim();
  for (;;) {
    const fade = FADE.exec(what);
    const after = fade ? null : AFTER.exec(what);
    const curve = fade || after ? null : CURVE.exec(what);
    const match = fade ?? after ?? curve;
    if (!match) return { what, ending };
    if (fade) {
      const { ms, beats } = must(readSpan(fade[1]!, bare, 3_600_000));
      ending.fadeMs = ms;
      ending.fadeBeats = beats;
    } else if (after) {
      const { ms, beats } = must(readSpan(after[1]!, bare, 600_000));
      ending.delayMs = ms;
      ending.delayBeats = beats;
    } else ending.curve = match[1]!.toLowerCase() as Ending['curve'];
    what = what.slice(0, match.index);
  }
}

const words = (span: Span): string =>
  span.beats === null ? `${Number((span.ms / 1000).toFixed(3))} s` : spanWords(span);

export function writeEnding({ fadeMs, fadeBeats, curve, delayMs, delayBeats }: Ending): string {
  const fade = { ms: fadeMs, beats: fadeBeats };
  const delay = { ms: delayMs, beats: delayBeats };
  return [
    isNone(fade) ? '' : ` fade ${words(fade)}`,
    curve === 'straight' ? '' : ` ${curve}`,
    isNone(delay) ? '' : ` after ${words(delay)}`,
  ].join('');
}
