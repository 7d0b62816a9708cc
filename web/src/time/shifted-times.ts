import { DAY_MS } from '@tawny-signal/core/time/position';
import type { FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { frameAt, msOf, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import type { Placed } from './strip-layout';

/** The times of moments, moved by as much. @throws Error if one would leave the day */
export function shiftedTimes(
  placed: readonly Placed[],
  byMs: number,
  rate: FrameRate,
): { id: string; timecode: string }[] {
  const outside = placed.find(({ ms }) => ms + byMs < 0 || ms + byMs >= DAY_MS);
  if (outside)
    throw new Error(
      `Cue ${outside.moment.cue} at ${outside.moment.timecode} would be outside of 00:00:00:00 to 24 h.`,
    );
  return placed.map(({ moment, ms }) => ({
    id: moment.id,
    timecode: writeTimecode(frameAt(ms + byMs + msOf(0.5, rate), rate), rate),
  }));
}
