/** Where moments stand along the position, in pixels. */
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { msOf, readTimecode } from '@tawny-signal/core/timecode/timecode';

export interface Placed {
  moment: Moment;
  ms: number;
}

/** The moments with a timecode that exists, in the order of their times. */
export function placedMoments({ moments, settings }: Show): Placed[] {
  return moments
    .flatMap((moment) => {
      const ms = msOfTimecode(moment.timecode, settings.timecode.frameRate);
      return ms === null ? [] : [{ moment, ms }];
    })
    .sort((a, b) => a.ms - b.ms);
}

export function msOfTimecode(timecode: string | null, rate: FrameRate): number | null {
  const frame = timecode === null ? null : readTimecode(timecode, rate);
  return frame?.ok ? msOf(frame.value, rate) : null;
}

/** The part of the position that is drawn, in ms. @param places of all that is on it */
export function rangeOf(places: readonly number[]): { from: number; to: number } {
  const first = places.reduce((least, ms) => Math.min(least, ms), Infinity);
  const last = places.reduce((most, ms) => Math.max(most, ms), 0);
  if (first === Infinity) return rangeOf([0]);
  const room = Math.max(10_000, (last - first) * 0.08);
  return { from: Math.max(0, first - room), to: last + 2 * room };
}

export const LANES = 4;
/** Sizes in pixels: of a label, of a lane, of the ticks above, and of the bars of what runs. */
export const LABEL_PX = 132;
export const LANE_PX = 36;
export const HEAD_PX = 30;
export const BARS_PX = 20;
export const BEATS_PX = 28;

/** The lane of each label, 0 at the top, so that labels do not cover each other; null where there is no room. @param width of a label in pixels */
export function lanesOf(places: readonly number[], width: number): (number | null)[] {
  const ends = new Array<number>(LANES).fill(-Infinity);
  return places.map((x) => {
    const lane = ends.findIndex((end) => end <= x);
    if (lane < 0) return null;
    ends[lane] = x + width;
    return lane;
  });
}

/** Distances between two ticks, in s. */
const TICKS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
/** The least room between two ticks, in pixels. */
const TICK_ROOM = 90;

export const tickOf = (pixelsPerMs: number): number =>
  (TICKS.find((seconds) => seconds * 1000 * pixelsPerMs >= TICK_ROOM) ?? TICKS.at(-1)!) * 1000;
