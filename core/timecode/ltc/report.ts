/** What is on a recording of linear timecode: its rate, the ranges that run through, gaps and jumps between them, and how loud it is. */
import { RATES, type FrameRate } from '../frame-rate.js';
import { frameOf, writeTimecode } from '../timecode.js';
import type { LtcFrame } from './decoder.js';

/** Frames that follow each other, forward or backward. */
export interface LtcRange {
  from: string;
  to: string;
  frames: number;
  backward: boolean;
  /** Where it begins and ends in the recording, in s. */
  startS: number;
  endS: number;
  /** How it follows the range before it: silence in s, or a jump in frames. Null for the first. */
  after: { silenceS: number; jump: number } | null;
}

export interface LtcReport {
  rate: FrameRate | null;
  /** The speed, 1 for that of the rate. */
  speed: number;
  drop: boolean;
  ranges: LtcRange[];
  /** More ranges than are listed. */
  more: number;
  /** The level in dB below full scale while timecode was read; null if none was. */
  levelDb: number | null;
  frames: number;
}

const MOST_RANGES = 500;
const DAY_S = 24 * 3600;
/** Rates that are told apart by their numbers, by the highest frame that was seen, and by their speed. */
function rateOf(highest: number, drop: boolean, fps: number): FrameRate {
  if (drop) return '29.97df';
  const base = highest >= 25 ? 30 : highest === 24 ? 25 : null;
  const fits = (Object.keys(RATES) as FrameRate[]).filter(
    (rate) => !RATES[rate].drop && (base === null || RATES[rate].base === base),
  );
  return fits.reduce((best, rate) =>
    Math.abs(RATES[rate].fps - fps) < Math.abs(RATES[best].fps - fps) ? rate : best,
  );
}

interface Run {
  first: LtcFrame;
  last: LtcFrame;
  frames: number;
  backward: boolean;
}

export interface LtcReporter {
  /** @param level 0–1 */
  frame(read: LtcFrame, level: number): void;
  report(): LtcReport;
}

export function createLtcReporter(sampleRate: number): LtcReporter {
  const runs: Run[] = [];
  let more = 0;
  let frames = 0;
  let levels = 0;
  let highest = 0;
  let drop = false;

  /** Numbers are compared with 30 frames a second while the rate is not known: only the next one matters. */
  const numberOf = ({ parts, drop: drops }: LtcFrame, rate: FrameRate): number =>
    frameOf(parts, drops ? '29.97df' : rate);

  function goesOn(run: Run, read: LtcFrame): boolean {
    if (read.backward !== run.backward) return false;
    const way = read.backward ? -1 : 1;
    const { parts } = run.last;
    const [a, b] = [read.parts, parts].map(
      ({ hours, minutes, seconds }) => (hours * 60 + minutes) * 60 + seconds,
    );
    const length = read.endSample - read.startSample;
    const near = Math.abs(read.startSample - run.last.endSample) < length;
    // After 23:59:59 comes 00:00:00.
    const seconds = ((a! - b!) * way + DAY_S) % DAY_S;
    const next =
      seconds === 0 ? (read.parts.frames - parts.frames) * way === 1 : seconds === 1 && edge(read, way);
    return near && next;
  }
  /** The first frame of a second, or backward the last one, which is known by its second only. */
  const edge = ({ parts, drop: drops }: LtcFrame, way: number): boolean =>
    way === 1 ? parts.frames === 0 || (drops && parts.frames === 2) : parts.frames >= 23;

  return {
    frame(read, level) {
      frames++;
      levels += level;
      highest = Math.max(highest, read.parts.frames);
      drop ||= read.drop;
      const run = runs.at(-1);
      if (run && goesOn(run, read)) {
        run.last = read;
        run.frames++;
      } else if (runs.length < MOST_RANGES)
        runs.push({ first: read, last: read, frames: 1, backward: read.backward });
      else more++;
    },
    report() {
      const sounding = runs.reduce((sum, { first, last }) => sum + last.endSample - first.startSample, 0);
      const fps = sounding > 0 ? (frames * sampleRate) / sounding : 0;
      const rate = frames > 0 ? rateOf(highest, drop, fps) : null;
      const ranges = runs.map(({ first, last, frames: count, backward }, at): LtcRange => {
        const before = runs[at - 1]?.last;
        const words = (one: LtcFrame): string =>
          writeTimecode(numberOf(one, rate!), drop ? '29.97df' : rate!);
        return {
          from: words(first),
          to: words(last),
          frames: count,
          backward,
          startS: first.startSample / sampleRate,
          endS: last.endSample / sampleRate,
          after: before
            ? {
                silenceS: Math.max(0, (first.startSample - before.endSample) / sampleRate),
                jump: numberOf(first, rate!) - numberOf(before, rate!) - (backward ? -1 : 1),
              }
            : null,
        };
      });
      return {
        rate,
        speed: rate ? fps / RATES[rate].fps : 0,
        drop,
        ranges,
        more,
        levelDb: frames > 0 ? 20 * Math.log10(levels / frames) : null,
        frames,
      };
    },
  };
}
