/** The tempo by the position: marks say how fast it is from there on, and that a bar begins. Given the time; reads no clock. */
import type { TempoMark } from '../show/tempo-mark.js';
import type { FrameRate } from '../timecode/frame-rate.js';
import { msOf, readTimecode } from '../timecode/timecode.js';
import { positionAt, type Motion } from './position.js';
import type { Tempo } from './tempo.js';

/** The name of the marks among the sources of the tempo. */
export const MARKS = 'marks';

/** A mark with its place. */
export interface PlacedMark {
  id: string;
  name: string;
  /** The position, in ms. */
  ms: number;
  bpm: number;
  /** The beat of the song with which its bar begins: the first mark has 0. */
  beat: number;
}

/** Places are compared with this tolerance in ms, so that what is due at a mark is at it. */
const ROUNDING_MS = 1e-3;
const ROUNDING_BEATS = 1e-3;

export const beatMs = ({ bpm }: Pick<PlacedMark, 'bpm'>): number => 60_000 / bpm;

/** The marks whose timecodes exist, in the order of their places. Of several at one place the last one counts. @param toBar beats to the bar */
export function placeMarks(rows: readonly TempoMark[], rate: FrameRate, toBar: number): PlacedMark[] {
  const sorted = rows
    .flatMap(({ id, name, timecode, bpm }) => {
      const frame = readTimecode(timecode, rate);
      return frame.ok ? [{ id, name, ms: msOf(frame.value, rate), bpm }] : [];
    })
    .sort((a, b) => a.ms - b.ms);
  const placed: PlacedMark[] = [];
  for (const mark of sorted) {
    const before = placed.at(-1);
    if (before?.ms === mark.ms) placed.pop();
    const last = placed.at(-1);
    // A bar that is cut by a mark counts as a whole one.
    const bars = last ? Math.ceil(beatsBetween(last, mark) / toBar) : 0;
    placed.push({ ...mark, beat: (last?.beat ?? 0) + bars * toBar });
  }
  return placed;
}

/** How many beats of a mark come before the next mark: at least its first one. A beat that falls together with the next mark is that mark's. */
function beatsBetween(mark: Pick<PlacedMark, 'ms' | 'bpm'>, next: { ms: number } | undefined): number {
  return next ? Math.max(1, Math.ceil((next.ms - mark.ms) / beatMs(mark) - ROUNDING_BEATS)) : Infinity;
}

/** The index of the mark that counts at a place; -1 before the first. */
export function markAt(marks: readonly PlacedMark[], ms: number): number {
  let low = 0;
  let high = marks.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (marks[middle]!.ms <= ms + ROUNDING_MS) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The tempo of a mark while the position runs forward. Its bar is the mark's own, with which the song's beats are counted. */
export function tempoOfMark(mark: PlacedMark, motion: Motion, now: number, toBar: number): Tempo {
  const bpm = mark.bpm * motion.speed;
  const since = now - (positionAt(motion, now) - mark.ms) / motion.speed;
  return { bpm, since, bar: { at: -mark.beat, beats: toBar } };
}

/** The beat of the song at a place, counted over all marks; null before the first. It never passes the beat of the next mark. */
export function songBeatAtPlace(marks: readonly PlacedMark[], ms: number): number | null {
  const at = markAt(marks, ms);
  const mark = marks[at];
  if (!mark) return null;
  return Math.min(mark.beat + Math.max(0, ms - mark.ms) / beatMs(mark), marks[at + 1]?.beat ?? Infinity);
}

/** The beat that is nearest to a place, or the next one before or after it, as a place in ms; null before the first mark. */
export function beatNear(marks: readonly PlacedMark[], ms: number, step: -1 | 0 | 1 = 0): number | null {
  const at = markAt(marks, ms);
  const mark = marks[at];
  if (!mark) return step > 0 && marks[0] ? marks[0].ms : null;
  const beats = (ms - mark.ms) / beatMs(mark);
  const tolerance = ROUNDING_MS / beatMs(mark) + ROUNDING_BEATS;
  const wanted =
    step === 0
      ? Math.round(beats)
      : step > 0
        ? Math.floor(beats + tolerance) + 1
        : Math.ceil(beats - tolerance) - 1;
  const before = marks[at - 1];
  // Before the first beat of a mark comes the last one of the mark before it.
  if (wanted < 0) return before ? before.ms + (beatsBetween(before, mark) - 1) * beatMs(before) : null;
  const next = marks[at + 1];
  return next && wanted >= beatsBetween(mark, next) ? next.ms : mark.ms + wanted * beatMs(mark);
}
