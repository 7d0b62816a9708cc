/** What may stand at the end of anything in a cell: `fade 4 s`, `slow-start`, `after 0.5 s`. */
import { BENDS_NAMES } from '../show/fields.js';
import { must } from './bad-cell.js';
import { readTime, type TimeUnit } from './time.js';

export interface Ending {
  fadeMs: number;
  curve: (typeof BENDS_NAMES)[number];
  delayMs: number;
}

/** A time with or without its unit, as the source of a pattern with one group. */
export const TIME = String.raw`(\d+(?:[.,:]\d+)?(?:\.\d+)?\s*(?:ms|s|sec|min|m)?)`;
const FADE = new RegExp(String.raw`\s+fade\s+${TIME}$`, 'i');
const AFTER = new RegExp(String.raw`\s+after\s+${TIME}$`, 'i');
const CURVE = new RegExp(String.raw`\s+(${BENDS_NAMES.join('|')})$`, 'i');

/** Takes endings off a text, in any order. @param bare the unit of a time without one. @throws BadCell */
export function takeEnding(text: string, bare: TimeUnit): { what: string; ending: Ending } {
  const ending: Ending = { fadeMs: 0, curve: 'straight', delayMs: 0 };
  let what = text.trim();
  for (;;) {
    const fade = FADE.exec(what);
    const after = fade ? null : AFTER.exec(what);
    const curve = fade || after ? null : CURVE.exec(what);
    const match = fade ?? after ?? curve;
    if (!match) return { what, ending };
    if (fade) ending.fadeMs = must(readTime(fade[1]!, bare, 3_600_000));
    else if (after) ending.delayMs = must(readTime(after[1]!, bare, 600_000));
    else ending.curve = match[1]!.toLowerCase() as Ending['curve'];
    what = what.slice(0, match.index);
  }
}

const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(3))} s`;

export function writeEnding({ fadeMs, curve, delayMs }: Ending): string {
  return [
    fadeMs > 0 ? ` fade ${seconds(fadeMs)}` : '',
    curve === 'straight' ? '' : ` ${curve}`,
    delayMs > 0 ? ` after ${seconds(delayMs)}` : '',
  ].join('');
}
