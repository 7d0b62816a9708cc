/** Paints a keyboard of all 128 notes, and lights those that play. */
import { noteName, type MiddleC } from '@tawny-signal/core/midi/words';
import type { Brush } from '../ui/use-canvas';

export interface LitKey {
  number: number;
  /** 1–127 */
  velocity: number;
  /** True if it is down now; otherwise it was released at `at`. */
  down: boolean;
  /** Milliseconds since 1970. */
  at: number;
}

/** A released key stays lit for this long, so that short notes are visible. */
export const AFTERGLOW_MS = 350;

const WHITE_KEYS = 75;
const IS_BLACK = [false, true, false, true, false, false, true, false, true, false, true, false];
const LABELS = 16;

interface Place {
  x: number;
  width: number;
  black: boolean;
}

/** Returns the position of a note on a keyboard of a width. */
export function keyPlace(number: number, width: number): Place {
  const white = width / WHITE_KEYS;
  const inOctave = number % 12;
  const whitesBefore =
    Math.floor(number / 12) * 7 + IS_BLACK.slice(0, inOctave).filter((black) => !black).length;
  if (!IS_BLACK[inOctave]) return { x: whitesBefore * white, width: white, black: false };
  return { x: whitesBefore * white - white * 0.3, width: white * 0.6, black: true };
}

export interface KeyboardLook {
  lit: readonly LitKey[];
  middleC: MiddleC;
  /** The name of the colour of lit keys, which differs between input and output. */
  tone: 'dusk' | 'tawny';
}

/** The harder a note was pressed, the higher its key is filled, and the stronger its colour is. */
function light(brush: Brush, place: Place, height: number, key: LitKey, tone: string): void {
  const { c, now } = brush;
  const fade = key.down ? 1 : Math.max(0, 1 - (now - key.at) / AFTERGLOW_MS);
  const force = key.velocity / 127;
  c.globalAlpha = fade * (0.45 + 0.55 * force);
  c.fillStyle = tone;
  const filled = Math.max(6, height * force);
  c.fillRect(place.x + 0.5, height - filled, place.width - 1, filled);
  c.globalAlpha = 1;
}

export function paintKeyboard(brush: Brush, { lit, middleC, tone }: KeyboardLook): void {
  const { c, width, colour } = brush;
  const height = brush.height - LABELS;
  const byNumber = new Map(lit.map((key) => [key.number, key]));
  c.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  for (const black of [false, true]) {
    for (let number = 0; number < 128; number++) {
      const place = keyPlace(number, width);
      if (place.black !== black) continue;
      const tall = black ? height * 0.62 : height;
      c.fillStyle = colour(black ? 'paper' : 'bark-2');
      c.fillRect(place.x + 0.5, 0, place.width - 1, tall);
      c.strokeStyle = colour('rule');
      c.strokeRect(place.x + 0.5, 0.5, place.width - 1, tall - 1);
      const key = byNumber.get(number);
      if (key) light(brush, place, tall, key, colour(tone));
      if (black || number % 12 !== 0) continue;
      c.fillStyle = colour('ink-2');
      c.fillText(noteName(number, middleC), place.x + 1, brush.height - 3);
    }
  }
}
