/** Paints the value of a control over the last half minute. */
import { WINDOW_MS, type Sample } from '@tawny-signal/core/control/watch';
import type { Brush } from '../ui/use-canvas';

export interface ControlLook {
  samples: readonly Sample[];
  /** The values at the lower and upper edge. */
  range: [number, number];
}

const LINES = 4;
const SECONDS = 5;
const PAD = 6;

export function paintControl(
  { c, width, height, colour, now }: Brush,
  { samples, range }: ControlLook,
): void {
  const [low, high] = range;
  const x = (at: number): number => width * (1 - (now - at) / WINDOW_MS);
  const y = (value: number): number =>
    height - PAD - ((value - low) / (high - low || 1)) * (height - 2 * PAD);
  c.strokeStyle = colour('rule');
  c.lineWidth = 1;
  c.beginPath();
  for (let at = 0; at <= LINES; at++) {
    const level = Math.round(PAD + (at * (height - 2 * PAD)) / LINES) + 0.5;
    c.moveTo(0, level);
    c.lineTo(width, level);
  }
  for (let second = SECONDS; second < WINDOW_MS / 1000; second += SECONDS) {
    const at = Math.round(x(now - second * 1000)) + 0.5;
    c.moveTo(at, 0);
    c.lineTo(at, height);
  }
  c.stroke();
  if (samples.length === 0) return;
  c.strokeStyle = colour('dusk');
  c.lineWidth = 2;
  c.beginPath();
  let begun = false;
  let last = samples[0]!.value;
  for (const { at, value } of samples) {
    const place = x(at);
    if (place >= 0) {
      if (!begun) c.moveTo(Math.max(0, x(samples[0]!.at)), y(last));
      begun = true;
      // The value stays the same until the control sends another one.
      c.lineTo(place, y(last));
      c.lineTo(place, y(value));
    }
    last = value;
  }
  if (!begun) c.moveTo(0, y(last));
  c.lineTo(width, y(last));
  c.stroke();
}
