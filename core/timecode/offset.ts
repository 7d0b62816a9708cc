/** Offsets as people type them: `+00:00:02:00`, `-5 frames`, `-40 ms`, `2 s`. A number without a unit is in frames. */
import type { Typed } from '../typed/range.js';
import { readTime, writeTime } from '../typed/time.js';
import type { FrameRate } from './frame-rate.js';
import { framesAt, msOf, readTimecode, writeTimecode } from './timecode.js';

const DAY_MS = 86_400_000;
const HOW = 'Write an offset like +00:00:02:00, -5 frames, 40 ms or 2 s.';

/** @returns ms, negative for earlier */
export function readOffset(text: string, rate: FrameRate): Typed<number> {
  const found = /^\s*([+−-]?)\s*(.+?)\s*$/.exec(text);
  if (!found) return { ok: false, reason: HOW };
  const sign = found[1] === '' || found[1] === '+' ? 1 : -1;
  const size = readSize(found[2]!, rate);
  return size.ok ? { ok: true, value: size.value === 0 ? 0 : sign * size.value } : size;
}

function readSize(text: string, rate: FrameRate): Typed<number> {
  const frames = /^(\d{1,6})\s*(?:f|frames?)?$/i.exec(text);
  if (frames) return { ok: true, value: msOf(Number(frames[1]), rate) };
  if (/^\d+:\d+:\d+/.test(text)) {
    const read = readTimecode(text, rate);
    return read.ok ? { ok: true, value: msOf(read.value, rate) } : read;
  }
  const time = readTime(text, 'ms', DAY_MS);
  return time.ok ? time : { ok: false, reason: HOW };
}

/** Whole frames as a timecode, anything else as a time: `+00:00:02:00`, `−40 ms`; `0` for none. */
export function writeOffset(ms: number, rate: FrameRate): string {
  if (ms === 0) return '0';
  const sign = ms < 0 ? '−' : '+';
  const frames = framesAt(Math.abs(ms), rate);
  const whole = Math.abs(frames - Math.round(frames)) < 1e-3;
  return `${sign}${whole ? writeTimecode(Math.round(frames), rate) : writeTime(Math.abs(ms))}`;
}
