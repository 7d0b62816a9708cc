/** Keys that are typed one after another, as people write them: `Left Ctrl+S, 200 ms, Enter`. */
import { keyWords, parseKey, type KeyCode } from '../keys/codes.js';
import type { Typed } from './range.js';
import { readTime } from './time.js';

export interface TypingStep {
  codes: KeyCode[];
  pauseMs: number;
}

/** Between keys for which nothing else is written: what programs that poll their keys still see. */
const PAUSE_MS = 50;
const HINT = 'Write keys and pauses with commas between, like Left Ctrl+S, 200 ms, Enter.';

/** One key, by its code or by what is printed on it. */
export function readKey(text: string): Typed<KeyCode> {
  const code = parseKey(text);
  return code
    ? { ok: true, value: code }
    : { ok: false, reason: `“${text}” is not a key. Write its code, like KeyG, or what is printed on it.` };
}

/** Several keys with plus signs between; a plus sign at the end is the key itself. */
function readChord(text: string): KeyCode[] | string {
  const codes: KeyCode[] = [];
  for (const word of text.split('+').map((part) => part.trim())) {
    const code = parseKey(word);
    if (!code) return word;
    codes.push(code);
  }
  return codes;
}

export function readTyping(text: string): Typed<TypingStep[]> {
  const steps: TypingStep[] = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    if (/^\d[\d.]*\s*(?:ms|s)$/i.test(part)) {
      const last = steps.at(-1);
      const pause = readTime(part, 'ms', 60_000);
      if (!pause.ok) return pause;
      if (!last) return { ok: false, reason: `A pause comes after a key. ${HINT}` };
      last.pauseMs = pause.value;
      continue;
    }
    const chord = readChord(part);
    if (typeof chord === 'string') return { ok: false, reason: `“${chord}” is not a key. ${HINT}` };
    steps.push({ codes: chord, pauseMs: PAUSE_MS });
  }
  return steps.length > 0 ? { ok: true, value: steps } : { ok: false, reason: HINT };
}

export const writeChord = (codes: readonly KeyCode[]): string => codes.map(keyWords).join('+');

export function writeTyping(steps: readonly TypingStep[]): string {
  return steps
    .flatMap(({ codes, pauseMs }, at) => {
      const last = at === steps.length - 1;
      return last || pauseMs === PAUSE_MS ? [writeChord(codes)] : [writeChord(codes), `${pauseMs} ms`];
    })
    .join(', ');
}

/** Keys that are held together, the last one first pressed last: `Left Ctrl+S`. */
export function readChordOf(text: string): Typed<KeyCode[]> {
  const chord = readChord(text);
  if (typeof chord === 'string')
    return { ok: false, reason: `“${chord}” is not a key. Write keys like Left Ctrl+S.` };
  return { ok: true, value: chord };
}
